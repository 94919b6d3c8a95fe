export * from './day'
export * from './transit'
