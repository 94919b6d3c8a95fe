import about from '../../../package.json'

/** Of which version this Gharry is. */
export const version: string = about.version
