import { decisionKinds, facts, type FactType, itemFacts, itemSums, operatorsOf, stages } from '@/core/rulebook/language'

/** docs/catalogue.md: every fact and decision, from the catalogue that the editor and the checks read. */
export function catalogueText(): string {
  const row = (cells: readonly string[]): string =>
    `| ${cells.map((cell) => cell.replaceAll('|', '\\|')).join(' | ')} |`
  const table = (head: readonly string[], rows: readonly (readonly string[])[]): string =>
    [row(head), row(head.map(() => '---')), ...rows.map(row)].join('\n')
  const types = Object.keys(operatorsOf) as FactType[]
  return `# Catalogue

Made by \`npm run schemas\` from \`src/core/rulebook/language/facts.ts\` and \`decisionKinds.ts\`; a test holds it to them.

## Facts of an order
A fact that a stage settles can be tested from the next stage on; the others come with the order.

${table(
  ['fact', 'in a sentence', 'type', 'settled by', 'what it is', 'example'],
  facts.map((fact) => [
    `\`${fact.id}\``,
    fact.name,
    fact.type,
    fact.settledBy ?? '',
    fact.values ? `${fact.description}; one of ${fact.values.join(', ')}` : fact.description,
    fact.example,
  ]),
)}

## Facts of an item
For *any item*, *every item*, *no item* and sums over items.

${table(
  ['fact', 'in a sentence', 'type', 'what it is', 'example'],
  itemFacts.map((fact) => [`\`${fact.id}\``, fact.name, fact.type, fact.description, fact.example]),
)}

Sums over the items that fit: ${Object.entries(itemSums)
    .map(([id, { name, type }]) => `\`${id}\` (${name}, ${type})`)
    .join(', ')}.

## Operators

${table(
  ['type', 'operators'],
  types.map((type) => [type, operatorsOf[type].join(', ')]),
)}

## Decisions
A rule may set decisions of its own stage or a later one.

${stages
  .map(
    (stage) =>
      `### ${stage[0]!.toUpperCase()}${stage.slice(1)}\n\n${table(
        ['decision', 'in a sentence', 'several rules', 'what it does'],
        decisionKinds
          .filter((kind) => kind.stage === stage)
          .map((kind) => [
            `\`${kind.id}\``,
            kind.verb.replace(/:$/, ''),
            { one: 'the first decides', sum: 'add up', set: 'join', narrow: 'only what all allow' }[kind.combine],
            kind.description,
          ]),
      )}`,
  )
  .join('\n\n')}
`
}
