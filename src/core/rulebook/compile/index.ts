export type { Classifier, Row } from './classifier'
export {
  compileRulebook,
  itemPredicate,
  itemSumOf,
  type Program,
  type ReadyRule,
  type StageProgram,
  withoutRules,
} from './compileRulebook'
export { breakpoints, compactPostcode, compileTest, listMembers, type Names, type Predicate } from './predicates'
