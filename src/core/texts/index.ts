/** The face of texts with placeholders: what other rooms may use. */
export { type Budget, documentBudget, type Filled, fillText } from './fill'
