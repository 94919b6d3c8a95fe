export { canComeBack, type Coming, type Pieces, piecesOf } from './pieces'
export { came, type Condition, conditions, type ReturnReason, returnReasons, usuallyKept } from './reasons'
export { type Priced, refundFor, returnedValue } from './refundFor'
