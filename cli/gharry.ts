import { createWriteStream } from 'node:fs'
import { parseArgs } from 'node:util'
import { checkRulebook, compileRulebook, emptySummary, emptyWorld, findLogicOf, manyDecider, movedTo, movesOf, orderMemory, route, tallyMany, weightOf, type Finding, type Rulebook, type TrialCase, type TrialChange, type World } from '@/core/rulebook'
import { exportFiles } from '@/usecases/exportFiles'
import { FileProblem, ordersFromFile, rulebookFromFile, worldFromFile } from '@/usecases/files'
import { openGharry } from '@/usecases/gharry'

/*
 * The command line. Exit codes: 0 done, 1 the rulebook has errors, 2 the words of the call are off, 3 a file cannot be
 * used. Lines of an orders file that cannot be used are said on standard error, and the others go on.
 */
const usage = `gharry check RULEBOOK [--world WORLD] [--now TIME] [--json]
gharry route --rulebook RULEBOOK --world WORLD --orders FILE.csv|.jsonl [--out FILE] [--now TIME]
gharry trial --rulebook DRAFT --against RULEBOOK --world WORLD --orders FILE [--as-of DAY] [--json]
gharry export [FOLDER]

check says what is wrong (errors), and what the rules mean together: rules that can never match or act, clashes and gaps,
each with an order that shows it in --json. RULEBOOK is YAML or JSON, WORLD is JSON, orders are JSON lines or CSV. TIME is ISO 8601; each order's own time otherwise.`

class Usage extends Error {}

const options = { world: { type: 'string' }, rulebook: { type: 'string' }, against: { type: 'string' }, orders: { type: 'string' }, out: { type: 'string' }, now: { type: 'string' }, 'as-of': { type: 'string' }, json: { type: 'boolean' }, help: { type: 'boolean', short: 'h' } } as const

/** What each command takes: how many words at most, and which options. */
const commands: Readonly<Record<string, { readonly words: number; readonly takes: readonly string[] }>> = {
  check: { words: 1, takes: ['world', 'now', 'json'] },
  route: { words: 0, takes: ['rulebook', 'world', 'orders', 'out', 'now'] },
  trial: { words: 0, takes: ['rulebook', 'against', 'world', 'orders', 'as-of', 'json'] },
  export: { words: 1, takes: [] },
}

function readArguments(): { command: string; rest: string[]; given: Partial<Record<'world' | 'rulebook' | 'against' | 'orders' | 'out' | 'now' | 'as-of', string>> & { json?: boolean; help?: boolean } } {
  try {
    const { positionals, values } = parseArgs({ options, allowPositionals: true })
    const [command = '', ...rest] = positionals
    return { command, rest, given: values }
  } catch (error) {
    throw new Usage(error instanceof Error ? error.message : 'The call cannot be read.')
  }
}

async function main(): Promise<number> {
  const { command, rest, given } = readArguments()
  const need = (name: 'world' | 'rulebook' | 'against' | 'orders'): string => {
    const value = given[name]
    if (!value) throw new Usage(`--${name} is missing.`)
    return value
  }
  if (given.help || command === 'help') {
    console.log(usage)
    return 0
  }
  const known = commands[command]
  // What is left unread might be what was meant.
  const stray = known && (Object.keys(given).find((option) => !known.takes.includes(option)) ?? rest[known.words])
  if (stray !== undefined) throw new Usage(`${command} takes no ${stray === rest[known!.words] ? `"${stray}"` : `--${stray}`}.`)
  switch (command) {
    case 'check': {
      if (!rest[0]) throw new Usage('Name the rulebook to check.')
      return check(await rulebookFromFile(rest[0]), given.world ? (await worldFromFile(given.world)).world : null, momentOf(given.now), given.json === true)
    }
    case 'route': return routeOrders(need('rulebook'), need('world'), need('orders'), given.out, given.now)
    case 'trial': return trial(need('rulebook'), need('against'), need('world'), need('orders'), given['as-of'] === undefined ? null : momentOf(`${given['as-of']}T12:00:00Z`), given.json === true)
    case 'export': return exportAll(rest[0] ?? '.')
    default: throw new Usage(command ? `There is no command "${command}".` : 'Say what to do.')
  }
}

function momentOf(text: string | undefined): number {
  const moment = text === undefined ? Date.now() : Date.parse(text)
  if (Number.isNaN(moment)) throw new Usage(`"${text ?? ''}" is no time: write it as 2026-11-25T09:00:00Z, or a day as 2026-11-25.`)
  return moment
}

/** Findings about references, and gaps, need the world; without one they are left out. */
function check(rulebook: Rulebook, world: World | null, now: number, json: boolean): number {
  const aboutWorld: readonly string[] = ['missing', 'no-rate']
  const findings = checkRulebook(rulebook, world ?? emptyWorld).filter((finding) => world || !aboutWorld.includes(finding.code))
  const logic = findLogicOf(rulebook, findings, world ?? emptyWorld, now)
  if (json) console.log(JSON.stringify({ findings, logic: logic.map((finding) => ({ weight: weightOf(finding), ...finding })) }, null, 1))
  else {
    for (const finding of findings) console.log(findingLine(finding, rulebook))
    for (const finding of logic) console.log(`${weightOf(finding)} ${finding.kind} in rule "${rulebook.rules.find((rule) => rule.id === finding.rule)?.name ?? ''}" (${finding.rule}): ${finding.sentence}`)
  }
  const errors = findings.filter((finding) => finding.severity === 'error').length
  const notes = logic.filter((finding) => weightOf(finding) === 'note').length
  const warnings = findings.length - errors + logic.length - notes
  if (!json) console.log(errors + warnings + notes === 0 ? `${rulebook.rules.length} rules, nothing to say.` : `${rulebook.rules.length} rules, ${errors} errors, ${warnings} warnings, ${notes} notes.`)
  return errors > 0 ? 1 : 0
}

const findingLine = (finding: Finding, rulebook: Rulebook): string => `${finding.severity}: rule "${rulebook.rules.find((rule) => rule.id === finding.rule)?.name ?? finding.rule}": ${finding.sentence}`

async function routeOrders(rulebookFile: string, worldFile: string, ordersFile: string, out: string | undefined, now: string | undefined): Promise<number> {
  const world = await worldFromFile(worldFile)
  const program = compileRulebook(await rulebookFromFile(rulebookFile), world.world.rates)
  const moment = now === undefined ? null : Date.parse(now)
  if (Number.isNaN(moment)) throw new Usage(`--now "${now}" is no time such as 2026-11-25T08:00:00Z.`)
  const target = out ? createWriteStream(out) : process.stdout
  let bad = 0
  for await (const order of ordersFromFile(ordersFile, world, (problem) => { bad++; console.error(problem.message) })) {
    const routed = route(order, program, world, { now: moment ?? Date.parse(order.placedAt) })
    if (!target.write(`${JSON.stringify({ number: order.number, channel: order.channel, ...routed })}\n`)) await new Promise<void>((resolve) => void target.once('drain', () => resolve()))
  }
  if (out) await new Promise<void>((resolve) => void target.end(() => resolve()))
  return bad > 0 ? 3 : 0
}

// So many orders are decided together.
const portion = 1000

async function trial(draftFile: string, againstFile: string, worldFile: string, ordersFile: string, asOf: number | null, json: boolean): Promise<number> {
  const world = await worldFromFile(worldFile)
  const memory = orderMemory(world)
  const draft = manyDecider(compileRulebook(await rulebookFromFile(draftFile), world.world.rates), memory)
  const against = manyDecider(compileRulebook(await rulebookFromFile(againstFile), world.world.rates), memory)
  const changes: TrialChange[] = []
  const summary = emptySummary()
  const today = Date.now()
  let bad = 0
  let cases: TrialCase[] = []
  let read = 0
  const decide = (): void => {
    changes.push(...tallyMany(summary, cases, against, draft))
    cases = []
  }
  for await (const order of ordersFromFile(ordersFile, world, (problem) => { bad++; console.error(problem.message) })) {
    const own = { id: ++read, order, now: Date.parse(order.placedAt) }
    cases.push(asOf === null ? own : movedTo(own, today, asOf))
    if (cases.length === portion) decide()
  }
  decide()
  if (json) console.log(JSON.stringify({ summary, flow: draft.flow(), changes }, null, 1))
  else {
    const { home } = world.world.rates
    console.log(`${summary.changed} of ${summary.orders} orders change; ${summary.serviceChanges} change service; ${(Math.abs(summary.costDifference) / 100).toFixed(2)} ${home} ${summary.costDifference > 0 ? 'dearer' : 'saved'}; ${summary.newlyLate} newly late; ${summary.newlyStuck} newly need attention.`)
    for (const move of movesOf(summary)) console.log(`  ${move.from ?? 'no service'} -> ${move.to ?? 'no service'}: ${move.count}`)
    for (const change of changes) console.log(`${change.number}: ${change.before.service ?? 'none'} ${change.before.cost ?? '-'} -> ${change.after.service ?? 'none'} ${change.after.cost ?? '-'} (${change.decisions.join(', ')})`)
  }
  return bad > 0 ? 3 : 0
}

async function exportAll(folder: string): Promise<number> {
  const gharry = await openGharry({ ...process.env, GHARRY_LOG: 'silent' })
  try {
    const done = await exportFiles(gharry, folder)
    if (!done) {
      console.error('There is no edition yet: run the demo, or publish a rulebook.')
      return 3
    }
    console.log(`${done.files.join('\n')}\n${done.orders} orders`)
    return 0
  } finally {
    await gharry.close()
  }
}

try {
  process.exitCode = await main()
} catch (error) {
  if (error instanceof Usage) {
    console.error(`${error.message}\n\n${usage}`)
    process.exitCode = 2
  } else if (error instanceof FileProblem || error instanceof AggregateError) {
    for (const problem of error instanceof AggregateError ? (error.errors as Error[]) : [error]) console.error(problem.message)
    process.exitCode = 3
  } else throw error
}
