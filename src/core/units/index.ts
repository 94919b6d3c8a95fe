export * from './brands'
export * from './measure'
export * from './money'
export * from './number'
