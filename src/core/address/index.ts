export {
  type AddressProblem,
  checkAddress,
  correctAll,
  withAddressAccepted,
  withAddressChecked,
  withoutContacts,
} from './checkAddress'
export { isOneAddress } from './mail'
export { isParcelLocker, isPostOfficeBox } from './postOfficeBox'
export { printedAddress } from './printOrder'
export { readAddressBlock, type ReadBlock } from './readBlock'
export { withoutPerson } from './withoutPerson'
export { territories, territoryOf, tradeBetween } from './territory'
