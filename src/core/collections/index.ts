/** The face of collections: what other rooms may use. */
export { type Agreement, agreementsSchema, daysOf } from './agreements'
export { fitOf, type Load } from './fit'
