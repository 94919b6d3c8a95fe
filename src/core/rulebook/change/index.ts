export { decisionsTouched, type HandEdit, handEditor } from './handEdits'
export { type Difference, rulebookDifference } from './rulebookDifference'
export { type Precedent, type Suggestion, suggestRules } from './suggestRules'
export { type RuleCost, ruleCosts } from './ruleCosts'
export { tallyMany } from './tallyTrial'
export {
  addSummary,
  changeBetween,
  differingIn,
  emptySummary,
  movedTo,
  movesOf,
  type Sides,
  tally,
  type TrialCase,
  type TrialChange,
  type TrialGroup,
  trialGroups,
  type TrialSummary,
} from './trial'
export { trialColumns, trialRow } from './trialTable'
export { type WayOut, waysOut } from './waysOut'
export { changedOrder, type OrderChange, whyNotService } from './whatIf'
