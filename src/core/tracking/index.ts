export * from './events'
export * from './link'
