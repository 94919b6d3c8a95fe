/** @jest-environment jsdom */
import { act, screen, waitFor } from '@testing-library/react'
import { type Condition, decisionKinds, decisionPhrase, decisionValues } from '@/core/rulebook/language'
import { nothingDrawn } from '../kit/page.test-help'
import { actionWords, conditionWords, open, words } from './sentence.test-help'

beforeAll(nothingDrawn)

const field = (name: string | RegExp): Promise<HTMLElement> => screen.findByLabelText(name, { selector: 'input' })

describe('actions', () => {
  test.each(decisionKinds.map((kind) => [kind.verb.replace(/:$/, ''), kind] as const))(
    '“%s” is added with a value that is allowed, and said as a sentence says it',
    async (verb, kind) => {
      const { now, hands } = actionWords([])
      await open(hands, 'add an action')
      await hands.type(await field('Add an action'), `${verb}{Enter}`)
      await waitFor(() => expect(now()).toHaveLength(1))
      const [action] = now()
      expect(action!.set).toBe(kind.id)
      expect(decisionValues[kind.type].safeParse(action!.to)).toMatchObject({ success: true })
      expect(document.body.textContent.replaceAll('…', '')).toContain(
        kind.type === 'picks' ? 'the cheapest' : decisionPhrase(kind.id, action!.to, words),
      )
    },
  )

  test.each([
    ['weight', 50, '+50 g', 'Grams', '-1.2 kg', -1200],
    ['ceiling', { minor: 1000, currency: 'EUR' }, '€10.00', 'Amount', '£12.50', { minor: 1250, currency: 'GBP' }],
    ['within', 2, '2 days', 'Days', '3 days', 3],
    ['tags', ['new'], 'new', 'Tags', 'a, b ,, c', ['a', 'b', 'c']],
    ['dimensions', [400, 300, 200], /40/, 'Size', '12 × 8 × 4 cm', [120, 80, 40]],
    [
      'insurance',
      { cover: 'order value' },
      /order value/,
      'Amount',
      '€250',
      { cover: 'amount', amount: { minor: 25_000, currency: 'EUR' } },
    ],
    ['priority', 'urgent', 'urgent', 'Priority', 'later', 'later'],
    ['signature', true, 'yes', 'Value', 'no', false],
  ])('the value of %s is typed in place', async (set, to, says, label, typed, becomes) => {
    const { now, hands } = actionWords([{ set, to }])
    await open(hands, says)
    const input = await field(label)
    await hands.clear(input)
    await hands.type(input, `${typed}{Enter}`)
    await waitFor(() => expect(now()).toEqual([{ set, to: becomes }]))
  })

  test.each([
    ['weight', 50, '+50 g', 'Grams', 'some'],
    ['ceiling', { minor: 1000, currency: 'EUR' }, '€10.00', 'Amount', '5 XQZ'],
    ['within', 2, '2 days', 'Days', 'two and a half'],
  ])('what is no value of %s is said, and nothing changes', async (set, to, says, label, typed) => {
    const { now, hands } = actionWords([{ set, to }])
    await open(hands, says)
    const input = await field(label)
    await hands.clear(input)
    await hands.type(input, `${typed}{Enter}`)
    expect((await screen.findByRole('alert')).textContent).toContain(`“${typed}” cannot be read.`)
    expect(now()).toEqual([{ set, to }])
  })

  test('Delete on its verb takes an action away', async () => {
    const { now, hands } = actionWords([
      { set: 'tags', to: ['a'] },
      { set: 'weight', to: 20 },
    ])
    act(() => screen.getByRole('button', { name: 'add tags' }).focus())
    await hands.keyboard('{Delete}')
    expect(now()).toEqual([{ set: 'weight', to: 20 }])
  })
})

describe('conditions', () => {
  const weight: Condition = { fact: 'weight', op: '≥', value: 1000 }

  test.each([
    ['weight 2-5 kg', { fact: 'weight', op: 'between', value: [2000, 5000] }],
    ['order value >= 400', { fact: 'order value', op: '≥', value: { minor: 40_000, currency: 'EUR' } }],
    ['country be, nl', { fact: 'country', op: 'is one of', value: ['BE', 'NL'] }],
  ])('“%s” is understood in one go', async (typed, test) => {
    const { now, hands } = conditionWords({ all: [] })
    await open(hands, 'add a condition')
    await hands.type(await field(/^Add a condition/), `${typed}{Enter}`)
    await waitFor(() => expect(now()).toMatchObject({ all: [test] }))
  })

  test.each([
    ['>= 3 kg', { op: '≥', value: 3000 }],
    ['below 2 kg', { op: '<', value: 2000 }],
    ['between 1 and 2 kg', { op: 'between', value: [1000, 2000] }],
  ])('in the value alone “%s” sets the operator too', async (typed, test) => {
    const { now, hands } = conditionWords({ all: [weight] })
    await open(hands, '1 kg')
    const input = await field('Value')
    await hands.clear(input)
    await hands.type(input, `${typed}{Enter}`)
    await waitFor(() => expect(now()).toEqual({ all: [{ ...weight, ...test }] }))
  })

  test('another fact takes a value that fits it; another operator keeps the value', async () => {
    const { now, hands } = conditionWords({ all: [weight] })
    await open(hands, '≥')
    await hands.type(await field('Operator'), '<{Enter}')
    await waitFor(() => expect(now()).toEqual({ all: [{ ...weight, op: '<' }] }))
  })

  test('the joint turns all into any, and a word taken away leaves the others', async () => {
    const { now, hands } = conditionWords({ all: [weight, { fact: 'returning', op: 'is', value: true }] })
    await open(hands, 'and')
    await hands.type(await screen.findByRole('combobox'), 'or{Enter}')
    await waitFor(() => expect(now()).toMatchObject({ any: [weight, {}] }))
    act(() => screen.getAllByRole('button', { name: /weight/ })[0]!.focus())
    await hands.keyboard('{Delete}')
    await waitFor(() => expect(JSON.stringify(now())).not.toContain('weight'))
  })

  test('a list of countries shows names, and a group by its name', () => {
    conditionWords({ all: [{ fact: 'country', op: 'is one of', value: ['BE', { group: 'north' }] }] })
    expect(document.body.textContent).toContain('North')
  })
})
