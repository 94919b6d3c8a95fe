export * from './pack'
