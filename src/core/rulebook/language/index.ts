export { type Basket, basketOf, type Case, correctedWeight, openCase, promiseChance, setParcels, takeUp } from './case'
export { combined } from './combination'
export { copyRules, pasteRules, withNewRule, withRuleIn, withRulePlaced } from './copyRules'
export {
  addressKinds,
  decisionById,
  type DecisionId,
  type DecisionKind,
  decisionKinds,
  type Decisions,
  decisionsOf,
  defaults,
  type Hold,
  type HoldUntil,
  type Insert,
  type Insurance,
  needs,
  nobody,
  originWays,
  priorities,
  type Priority,
  type Split,
  splits,
} from './decisionKinds'
export { equalJson } from './equalJson'
export {
  type Fact,
  factById,
  facts,
  type FactType,
  type FactValue,
  isTextual,
  itemFactById,
  itemFacts,
  itemSums,
  operatorsOf,
  takesList,
} from './facts'
export { type Pins, type Routed, type Source, type StageTrail, type Trail, type TrailEntry } from './outcome'
export { momentTest, spanMs, timeTest, weekdays } from './moments'
export { isDeeperThan, maxDepth } from './nestingDepth'
export {
  type Action,
  branchOf,
  type Condition,
  emptyRulebook,
  type Group,
  type GroupKind,
  groupKinds,
  isItemSum,
  isItemTest,
  isSaved,
  isTest,
  type ItemSum,
  type ItemTest,
  type ListEntry,
  membersOf,
  type Operator,
  type Rule,
  type Rulebook,
  rulesWithSlip,
  type SavedCondition,
  type SavedTest,
  type Stage,
  stageIndex,
  stages,
  type Test,
  type Value,
  usersOfGroup,
} from './rulebook'
export { decisionValues, rulebookSchema } from './rulebookSchema'
export { readRulebook, type TextProblem, writeRulebook } from './rulebookText'
export { expandSaved, maxParts, savedName, writtenOut } from './savedConditions'
export {
  actionPhrase,
  conditionPhrase,
  deciderPhrase,
  nameOf,
  thingsOf,
  decisionPhrase,
  pickPhrase,
  readLimits,
  readUntil,
  ruleSentence,
  untilPhrase,
  valuePhrase,
  type Wordings,
} from './sentence'
