export { findLogic, findLogicOf, weightOf, type LogicFinding, type LogicKind } from './findings'
export { newGaps } from './gaps'
export type { Witness } from './witness'
