import fc from 'fast-check'
import { answerText } from './answerText'

test.each([
  ['above a quotation', 'Kouter 1, Gent\n\nOn Monday, Mossgill wrote:\n> Which address?\n> Yours', 'Kouter 1, Gent'],
  ['in another language', 'Ja, gern.\r\n\r\nAm 3. Mai schrieb Mossgill\r\n<a@b.example>:\r\n> Frage', 'Ja, gern.'],
  ['as other mail programs quote', 'Yes\n\n-----Original Message-----\nFrom: Mossgill\nTo: Ada', 'Yes'],
  ['beneath what it quotes', 'On Monday, Mossgill wrote:\n> Which address?\n\nKouter 1', 'Kouter 1'],
  ['without a quotation', 'Kouter 1\n9000 Gent\n', 'Kouter 1\n9000 Gent'],
  ['with a colon of its own', 'My address:\nKouter 1\n9000 Gent', 'My address:\nKouter 1\n9000 Gent'],
  ['that is nothing but a quotation', '> Which address?', ''],
])('an answer %s', (_how, mail, text) => expect(answerText(mail)).toBe(text))

test('nothing is in it that the mail did not have', () => {
  fc.assert(
    fc.property(fc.array(fc.constantFrom('>', ':', '\n', '-', ' ', 'a', '____', '\r\n')), (parts) => {
      const mail = parts.join('')
      expect(mail.replace(/\r\n?/g, '\n')).toContain(answerText(mail))
    }),
  )
})
