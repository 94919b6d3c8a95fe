/** The parts of *Lists and editions*, as they are in the address. */
export const listParts = ['editions', 'pinned', 'suggestions', 'groups', 'conditions', 'file'] as const
export type ListPart = (typeof listParts)[number]
