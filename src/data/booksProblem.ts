/** Why the books cannot be opened, in words that say what to do. */
export class BooksProblem extends Error {}
