export {
  findingSteps,
  findLogic,
  findLogicOf,
  weightOf,
  withoutWrong,
  type LogicFinding,
  type LogicKind,
} from './findings'
export { newGaps } from './gaps'
export type { Witness } from './witness'
