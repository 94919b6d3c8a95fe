import { join } from 'node:path'

/** A file in a folder that only who runs Gharry knows: the build does not look for what is in it. */
export const inFolder = (folder: string, name: string): string => join(/*turbopackIgnore: true*/ folder, name)
