export * from './day'
export * from './transit'
export * from './read'
