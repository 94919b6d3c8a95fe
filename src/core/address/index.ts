export * from './postOfficeBox'
