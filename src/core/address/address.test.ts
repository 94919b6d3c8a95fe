import { isPostOfficeBox } from './index'

test.each(['PO Box 123', 'P.O. Box 7', 'Postbus 44', 'Postfach 10 20', 'BP 12', 'skrytka pocztowa 5', 'Apartado 9', 'Casella Postale 1', 'Postboks 88', 'Boîte postale 3'])('%s is a post-office box', (line) => {
  expect(isPostOfficeBox(['Ann Bee', line])).toBe(true)
})
test.each(['Boxmeerseweg 1', 'Postplein 4', 'Bpstraat', 'Apartment 5', 'Via Postale 2'])('%s is not', (line) => {
  expect(isPostOfficeBox([line])).toBe(false)
})
