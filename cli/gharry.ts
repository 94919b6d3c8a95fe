import { isDay, readMoment } from '@/core/calendar'
import { money, plainAmount } from '@/core/units'
import { parseArgs } from 'node:util'
import { manyDecider, orderMemory } from '@/core/rulebook/bulk'
import { emptySummary, movedTo, movesOf, tallyMany, type TrialCase, type TrialChange } from '@/core/rulebook/change'
import { compileRulebook, type Program } from '@/core/rulebook/compile'
import { route } from '@/core/rulebook/decide'
import { checkRulebook, type Finding, findLogicOf, weightOf } from '@/core/rulebook/findings'
import type { Rulebook } from '@/core/rulebook/language'
import { emptyWorld, firstZone, type ReadyWorld, type World } from '@/core/world'
import { exportFiles } from '@/usecases/shared/exportFiles'
import {
  FileProblem,
  ordersFromFile,
  dateOrders,
  rulebookFromFile,
  worldFromFile,
  type DateOrder,
  type FileSigns,
} from '@/usecases/shared/inputFiles'
import { openApplication } from '@/usecases/shared/application'
import { rotateKey } from '@/usecases/shared/rotateKey'
import { outputTo, sameFile } from './output'
import { askCarriers, backupNow, listBackups, restore, showBackupKey } from './backups'
import { move } from './move'
import { moveOldMonths, printOrder } from './oldMonths'
import { ownerLink, verify } from './people'
import { withBooks } from './withBooks'

/*
 * The command line. Exit codes: 0 done, 1 the rulebook has errors, 2 the words of the call are off, 3 a file cannot be
 * used, or not be written. Lines of an orders file that cannot be used are said on standard error, and the others go
 * on.
 */
const usage = `gharry check RULEBOOK [--world WORLD] [--now TIME] [--json]
gharry route --rulebook RULEBOOK --world WORLD --orders FILE.csv|.jsonl [--out FILE] [--now TIME] [--decimal . | ,] [--dates ymd|dmy|mdy]
gharry trial --rulebook DRAFT --against RULEBOOK --world WORLD --orders FILE [--as-of DAY] [--json] [--decimal . | ,] [--dates …]
gharry export [FOLDER]
gharry rotate-key
gharry owner [--for E-MAIL] [--if-none]
gharry audit
gharry backup
gharry backups [--from PLACE] [--key FILE]
gharry restore [BACKUP] [--at TIME] [--from PLACE] [--key FILE] [--finish]
gharry ask-carriers TIME
gharry backup-key
gharry move --to postgres://…|FOLDER/gharry.db [--fresh]
gharry old-months [--keep MONTHS]
gharry order NUMBER

check says what is wrong (errors), and what the rules mean together: rules that can never match or act, clashes and gaps,
each with an order that shows it in --json. RULEBOOK is YAML or JSON, WORLD is JSON, orders are JSON lines or CSV. TIME is ISO 8601, by the clocks of the
first location where it names no zone; each order's own time otherwise. A CSV file says by itself which sign is before decimals and
whether day or month comes first; where it does not, --decimal and --dates do.
rotate-key seals all secrets of the books under a new key, or under that of GHARRY_KEY; Gharry may run meanwhile.
owner prints a link that can be used once: it makes the first owner; with --for it lets an owner in who has lost their way.
audit works out every hash of the audit again, and says the first line that is not as it was written.
backup makes a backup now; backups lists those that are there. PLACE is a folder or sftp://user@host:port/folder; without --from it is
that of GHARRY_BACKUPS. FILE holds the backup key; without --key it is that of this data folder, or of GHARRY_BACKUP_KEY.
restore puts the books back as a backup has them, or as they were at TIME. Gharry must not run on the data folder. What is there now
is kept beside. --finish goes on with a restore that was cut off at its last step.
ask-carriers is for books that other tools have put back as they were at TIME, as those of PostgreSQL do: before anything is bought, the
carriers are asked what was bought since. Workers see it by themselves where their data folder is still there.
backup-key prints the key that backups are sealed with: keep it elsewhere. Without it no backup can be opened.
move copies all books with their files into another database, an empty one, and compares them; Gharry must not run meanwhile. Stopped or
cut off, the same command goes on; --fresh begins anew.
old-months moves orders that are over and name nobody any more out of the books into files, but for the last MONTHS; without --keep it is
GHARRY_MONTHS_IN_BOOKS. order prints all that is known of an order as JSON, from the books or from those files.`

class Usage extends Error {}

/** What the system says of a file, in words. */
const causes: Readonly<Record<string, string>> = {
  ENOENT: 'There is no such file or folder.',
  ENOTDIR: 'Part of the path is no folder.',
  EISDIR: 'This is a folder: name a file.',
  EACCES: 'It may not be written.',
  EROFS: 'It may not be written.',
  EPERM: 'It may not be written.',
  ENOSPC: 'The disk is full.',
  EEXIST: 'It is there already, and no folder.',
}

const options = {
  world: { type: 'string' },
  rulebook: { type: 'string' },
  against: { type: 'string' },
  orders: { type: 'string' },
  out: { type: 'string' },
  now: { type: 'string' },
  'as-of': { type: 'string' },
  decimal: { type: 'string' },
  dates: { type: 'string' },
  json: { type: 'boolean' },
  for: { type: 'string' },
  at: { type: 'string' },
  from: { type: 'string' },
  key: { type: 'string' },
  finish: { type: 'boolean' },
  to: { type: 'string' },
  fresh: { type: 'boolean' },
  keep: { type: 'string' },
  'if-none': { type: 'boolean' },
  help: { type: 'boolean', short: 'h' },
} as const

/** What each command takes: how many words at most, and which options. */
const commands: Readonly<Record<string, { readonly words: number; readonly takes: readonly string[] }>> = {
  check: { words: 1, takes: ['world', 'now', 'json'] },
  route: { words: 0, takes: ['rulebook', 'world', 'orders', 'out', 'now', 'decimal', 'dates'] },
  trial: { words: 0, takes: ['rulebook', 'against', 'world', 'orders', 'as-of', 'json', 'decimal', 'dates'] },
  export: { words: 1, takes: [] },
  'rotate-key': { words: 0, takes: [] },
  owner: { words: 0, takes: ['for', 'if-none'] },
  audit: { words: 0, takes: [] },
  backup: { words: 0, takes: [] },
  backups: { words: 0, takes: ['from', 'key'] },
  restore: { words: 1, takes: ['at', 'from', 'key', 'finish'] },
  'ask-carriers': { words: 1, takes: [] },
  'backup-key': { words: 0, takes: [] },
  move: { words: 0, takes: ['to', 'fresh'] },
  'old-months': { words: 0, takes: ['keep'] },
  order: { words: 1, takes: [] },
}

function readArguments(): {
  command: string
  rest: string[]
  given: Partial<
    Record<
      | 'world'
      | 'rulebook'
      | 'against'
      | 'orders'
      | 'out'
      | 'now'
      | 'as-of'
      | 'decimal'
      | 'dates'
      | 'for'
      | 'at'
      | 'from'
      | 'key'
      | 'to'
      | 'keep',
      string
    >
  > & { json?: boolean; help?: boolean; 'if-none'?: boolean; finish?: boolean; fresh?: boolean }
} {
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
  if (stray !== undefined)
    throw new Usage(`${command} takes no ${stray === rest[known!.words] ? `"${stray}"` : `--${stray}`}.`)
  switch (command) {
    case 'check': {
      if (!rest[0]) throw new Usage('Name the rulebook to check.')
      const world = given.world ? (await worldFromFile(given.world)).world : null
      return check(
        await rulebookFromFile(rest[0]),
        world,
        momentOf(given.now, world) ?? Date.now(),
        given.json === true,
      )
    }
    case 'route':
      return routeOrders({
        rulebook: need('rulebook'),
        world: need('world'),
        orders: need('orders'),
        out: given.out,
        now: given.now,
        signs: signsOf(given),
      })
    case 'trial':
      return trial({
        draft: need('rulebook'),
        against: need('against'),
        world: need('world'),
        orders: need('orders'),
        asOf: given['as-of'],
        json: given.json === true,
        signs: signsOf(given),
      })
    case 'export':
      return exportAll(rest[0] ?? '.')
    case 'rotate-key':
      return changeTheKey()
    case 'owner':
      return ownerLink(given.for, given['if-none'] === true)
    case 'audit':
      return verify()
    case 'backup':
      return backupNow()
    case 'backups':
      return listBackups(given)
    case 'restore':
      return restore(rest[0], { ...given, at: momentOf(given.at, null) })
    case 'ask-carriers': {
      const since = momentOf(rest[0], null)
      if (since === null) throw new Usage('Say at which moment the books were as they are now.')
      return askCarriers(since)
    }
    case 'backup-key':
      return showBackupKey()
    case 'move':
      return move(given.to, given.fresh === true)
    case 'old-months':
      return moveOldMonths(given.keep)
    case 'order':
      if (!rest[0]) throw new Usage('Name the order by its number.')
      return printOrder(rest[0])
    default:
      throw new Usage(command ? `There is no command "${command}".` : 'Name a command.')
  }
}

/** A moment that was given; without a zone it is told by the first location's clocks. Null when none was given. */
function momentOf(text: string | undefined, world: World | null): number | null {
  if (text === undefined) return null
  const moment = readMoment(text, world ? firstZone(world) : 'UTC')
  if (moment === null)
    throw new Usage(`"${text}" is no time: write it as 2026-11-25T09:00:00Z, or a day as 2026-11-25.`)
  return moment
}

function signsOf({ decimal, dates }: { readonly decimal?: string; readonly dates?: string }): FileSigns {
  if (decimal !== undefined && decimal !== '.' && decimal !== ',')
    throw new Usage(`--decimal is "." or ",", not "${decimal}".`)
  if (dates !== undefined && !(dateOrders as readonly string[]).includes(dates))
    throw new Usage(`--dates is ymd, dmy or mdy, not "${dates}".`)
  return {
    ...(decimal === undefined ? {} : { decimal }),
    ...(dates === undefined ? {} : { dates: dates as DateOrder }),
  }
}

/** A rulebook ready to decide; null when it has errors, which are said. */
async function programOf(file: string, world: ReadyWorld): Promise<Program | null> {
  const rulebook = await rulebookFromFile(file)
  const errors = checkRulebook(rulebook, world.world).filter(({ severity }) => severity === 'error')
  for (const error of errors) console.error(findingLine(error, rulebook))
  if (errors.length > 0)
    console.error(
      `${file} has ${errors.length === 1 ? 'an error' : `${errors.length} errors`}: nothing is decided by it.`,
    )
  return errors.length > 0 ? null : compileRulebook(rulebook, world.world.rates)
}

/** Findings about references, and gaps, need the world; without one they are left out. */
function check(rulebook: Rulebook, world: World | null, now: number, json: boolean): number {
  const aboutWorld: readonly string[] = ['missing', 'no-rate']
  const findings = checkRulebook(rulebook, world ?? emptyWorld).filter(
    (finding) => world || !aboutWorld.includes(finding.code),
  )
  const logic = findLogicOf(rulebook, findings, world ?? emptyWorld, now)
  if (json)
    console.log(
      JSON.stringify({ findings, logic: logic.map((finding) => ({ weight: weightOf(finding), ...finding })) }, null, 1),
    )
  else {
    for (const finding of findings) console.log(findingLine(finding, rulebook))
    for (const finding of logic)
      console.log(
        `${weightOf(finding)} ${finding.kind} in rule "${rulebook.rules.find((rule) => rule.id === finding.rule)?.name ?? ''}" (${finding.rule}): ${finding.sentence}`,
      )
  }
  const errors = findings.filter((finding) => finding.severity === 'error').length
  const notes = logic.filter((finding) => weightOf(finding) === 'note').length
  const warnings = findings.length - errors + logic.length - notes
  if (!json)
    console.log(
      errors + warnings + notes === 0
        ? `${rulebook.rules.length} rules, nothing to say.`
        : `${rulebook.rules.length} rules, ${errors} errors, ${warnings} warnings, ${notes} notes.`,
    )
  return errors > 0 ? 1 : 0
}

const findingLine = (finding: Finding, rulebook: Rulebook): string =>
  `${finding.severity}: rule "${rulebook.rules.find((rule) => rule.id === finding.rule)?.name ?? finding.rule}": ${finding.sentence}`

interface RouteCall {
  readonly rulebook: string
  readonly world: string
  readonly orders: string
  readonly out: string | undefined
  readonly now: string | undefined
  readonly signs: FileSigns
}

async function routeOrders({ rulebook, world: worldFile, orders, out, now, signs }: RouteCall): Promise<number> {
  const input = out === undefined ? undefined : [rulebook, worldFile, orders].find((file) => sameFile(file, out))
  if (input !== undefined) throw new Usage(`--out ${out} is the very file that is read (${input}): name another one.`)
  const world = await worldFromFile(worldFile)
  const moment = momentOf(now, world.world)
  const program = await programOf(rulebook, world)
  if (!program) return 1
  const output = await outputTo(out)
  let bad = 0
  try {
    for await (const order of ordersFromFile(
      orders,
      world,
      (problem) => {
        bad++
        console.error(problem.message)
      },
      (note) => console.error(note),
      signs,
    )) {
      const routed = route(order, program, world, { now: moment ?? Date.parse(order.placedAt) })
      if (!(await output.write(`${JSON.stringify({ number: order.number, channel: order.channel, ...routed })}\n`)))
        return 0
    }
    await output.done()
  } catch (error) {
    await output.drop()
    throw error
  }
  return bad > 0 ? 3 : 0
}

// So many orders are decided together.
const portion = 1000

interface TrialCall {
  readonly draft: string
  readonly against: string
  readonly world: string
  readonly orders: string
  readonly asOf: string | undefined
  readonly json: boolean
  readonly signs: FileSigns
}

async function trial({
  draft: draftFile,
  against: againstFile,
  world: worldFile,
  orders: ordersFile,
  asOf: asOfDay,
  json,
  signs,
}: TrialCall): Promise<number> {
  if (asOfDay !== undefined && !isDay(asOfDay)) throw new Usage(`--as-of "${asOfDay}" is no day such as 2026-11-25.`)
  const world = await worldFromFile(worldFile)
  const asOf = asOfDay === undefined ? null : momentOf(`${asOfDay}T12:00`, world.world)
  const memory = orderMemory(world)
  const programs = [await programOf(draftFile, world), await programOf(againstFile, world)]
  if (!programs[0] || !programs[1]) return 1
  const draft = manyDecider(programs[0], memory)
  const against = manyDecider(programs[1], memory)
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
  for await (const order of ordersFromFile(
    ordersFile,
    world,
    (problem) => {
      bad++
      console.error(problem.message)
    },
    (note) => console.error(note),
    signs,
  )) {
    const own = { id: ++read, order, now: Date.parse(order.placedAt) }
    cases.push(asOf === null ? own : movedTo(own, today, asOf))
    if (cases.length === portion) decide()
  }
  decide()
  if (json) console.log(JSON.stringify({ summary, flow: draft.flow(), changes }, null, 1))
  else {
    const { home } = world.world.rates
    console.log(
      `${summary.changed} of ${summary.orders} orders change; ${summary.serviceChanges} change service; ${plainAmount(money(Math.abs(summary.costDifference), home))} ${home} ${summary.costDifference > 0 ? 'dearer' : 'saved'}; ${summary.newlyLate} newly late; ${summary.newlyStuck} newly need attention.`,
    )
    for (const move of movesOf(summary))
      console.log(`  ${move.from ?? 'no service'} -> ${move.to ?? 'no service'}: ${move.count}`)
    for (const change of changes)
      console.log(
        `${change.number}: ${change.before.service ?? 'none'} ${change.before.cost ?? '-'} -> ${change.after.service ?? 'none'} ${change.after.cost ?? '-'} (${change.decisions.join(', ')})`,
      )
  }
  return bad > 0 ? 3 : 0
}

/** Seals all credentials under a new key. */
async function changeTheKey(): Promise<number> {
  const gharry = await openApplication()
  try {
    const done = await rotateKey(gharry)
    if (!done.ok) {
      console.error(done.sentence)
      return 3
    }
    console.log(`Sealed under the key ${done.keyId}: ${done.sealed} ${done.sealed === 1 ? 'secret' : 'secrets'}.`)
    return 0
  } finally {
    await gharry.close()
  }
}

const exportAll = (folder: string): Promise<number> =>
  withBooks(async (gharry) => {
    const done = await exportFiles(gharry, folder)
    if (!done) {
      console.error('There is no edition yet: run the demo, or publish a rulebook.')
      return 3
    }
    console.log(`${done.files.join('\n')}\n${done.orders} orders`)
    return 0
  })

// Whoever reads the output may have seen enough (`| head -1`): then there is nothing more to do.
for (const stream of [process.stdout, process.stderr])
  stream.on('error', (error: NodeJS.ErrnoException) => {
    if (error.code === 'EPIPE') process.exit(0)
    process.exitCode = 3
    if (stream === process.stdout) console.error(`The output cannot be written (${error.code ?? error.message}).`)
    process.exit(3)
  })

try {
  process.exitCode = await main()
} catch (error) {
  if (error instanceof Usage) {
    console.error(`${error.message}\n\n${usage}`)
    process.exitCode = 2
  } else if (error instanceof FileProblem || error instanceof AggregateError) {
    for (const problem of error instanceof AggregateError ? (error.errors as Error[]) : [error])
      console.error(problem.message)
    process.exitCode = 3
  } else {
    const { code, path, message } = error as NodeJS.ErrnoException
    console.error(
      code
        ? `${path ? `${path}: ` : ''}${causes[code] ?? `It cannot be used (${code}).`}`
        : `This call cannot be carried out: ${message.split('\n')[0]}`,
    )
    process.exitCode = 3
  }
}
