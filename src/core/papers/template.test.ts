import { documentBudget } from '@/core/texts'
import { fillTemplate, holds } from './template'
import type { SlipContent } from './slip'

const content = {
  orderNumber: 'MG-1',
  channelName: 'Shop',
  placedOn: '2026-11-20',
  buyerName: 'Ann Peeters',
  country: 'BE',
  value: '10.00',
  quantity: 2,
  wording: 'Free',
  tags: ['live'],
  trackingNumber: 'H1',
  parcelText: '1 of 1',
} as unknown as SlipContent
const said = (template: string): string => {
  const filled = fillTemplate(template, content)
  return filled.ok ? `text ${filled.text}` : filled.sentence
}

test('placeholders are filled; what there is not is said', () => {
  expect(said('Dear {{ buyer.firstName }}, {% if order.country == "BE" %}dag{% endif %}')).toBe('text Dear Ann, dag')
  expect(said('{{ nothing }}')).toMatch(/cannot be filled: undefined variable/)
  expect([
    holds('order.quantity > 1', content),
    holds('order.quantity > 2', content),
    holds('', content),
    holds('%} {% nonsense', content),
  ]).toEqual([true, false, true, false])
})

test.each([
  "{% include 'package.json' %}",
  "{% render 'package.json' %}",
  "{% layout 'package.json' %}",
  '{% include order.number %}',
  '{% block a %}{% endblock %}',
])('%s takes in nothing', (template) => {
  expect(said(template)).toMatch(/there is no/)
})

test.each([
  '{% for a in (1..1000000000) %}x{% endfor %}',
  '{% for a in (1..order.quantity) %}x{% endfor %}',
  '{% assign a = (1..999999) %}{{ a }}',
])('the range in %s has no end that is allowed', (template) => {
  expect(said(template)).toMatch(/a range goes to a number of at most 1000/)
})

test('texts of one document share one budget: what comes after it is spent is not begun', () => {
  const budget = documentBudget()
  const loop = '{% for a in (1..900) %}{% for b in (1..900) %}{{ a }}{% endfor %}{% endfor %}'
  const outcomes = Array.from({ length: 60 }, () => fillTemplate(loop, content, budget))
  expect(outcomes.every(({ ok }) => !ok)).toBe(true)
  expect(budget.left).toBeLessThanOrEqual(0)
  expect(outcomes[59]).toMatchObject({ sentence: expect.stringContaining('take too long together') as unknown })
  expect(fillTemplate('x', content, budget).ok).toBe(false)
  expect(fillTemplate('x', content).ok).toBe(true)
})
