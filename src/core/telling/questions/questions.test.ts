import { composeLetter, languages, type LetterFacts, questions, questionText } from '../index'

const facts: LetterFacts = {
  order: { number: 'M-1042', channel: 'Mossgill Shop', address: 'Ada Sample\nKouter 1\n9000 Gent\nBELGIUM' },
  buyer: { name: 'Ada Sample' },
  seller: { name: 'Mossgill', mail: 'hello@mossgill.example' },
  items: [{ title: 'A net', quantity: 2 }],
  link: 'https://mossgill.example/track/answer/x',
}

test.each(questions.map(({ id }) => id))('“%s” can be asked in every language, with nothing left open', (question) => {
  const subjects = languages.map((language) => {
    const said = composeLetter(language, questionText(question, language), facts)
    if (!('letter' in said)) throw new Error(said.sentence)
    const { letter } = said
    expect(letter.subject).toContain('M-1042')
    expect(letter.body).toContain(facts.link)
    expect(letter.body).not.toMatch(/\{\{|\}\}|\{%|undefined/)
    expect(letter.paragraphs.filter((part) => part === null)).toHaveLength(1)
    if (question === 'address') expect(letter.body).toContain('9000 Gent')
    return letter.subject
  })
  expect(new Set(subjects).size).toBe(languages.length)
})

test('a subject stays one line, and a buyer without a name is greeted all the same', () => {
  const odd = { ...facts, order: { ...facts.order, number: 'M-1\r\nBcc: a@b.example' }, buyer: { name: '' } }
  const said = composeLetter('de', questionText('later', 'de'), odd)
  expect('letter' in said && said.letter.subject).not.toMatch(/[\r\n]/)
  expect('letter' in said && said.letter.body).toMatch(/^Guten Tag,|^Guten Tag [^{]/)
})
