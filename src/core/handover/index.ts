/** The face of the hand-over: what other rooms may use. */
export { atDoor, type AtDoor, type Door } from './atDoor'
export { containerCode, isContainerCode, mostUnits, ssccOf } from './containers'
export { type Strokes, strokesSchema } from './strokes'
