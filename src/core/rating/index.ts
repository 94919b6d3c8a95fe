export * from './choose'
export * from './quote'
export * from './tariff'
