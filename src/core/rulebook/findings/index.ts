export { checkRulebook, type Finding, missingReferences } from './checkRulebook'
export { findingSteps, findLogic, findLogicOf, type LogicFinding, weightOf, withoutWrong } from './findings'
export { newGaps } from './gaps'
