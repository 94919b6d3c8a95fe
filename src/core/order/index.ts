export * from './country'
export * from './normalise'
export * from './order'
export * from './text'
