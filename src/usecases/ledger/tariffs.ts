import { csvFile, readSheet, xlsxFile } from '@/adapters'
import {
  checkTariffs,
  differencesOf,
  mergeTariffs,
  readTariffTable,
  surchargeLines,
  type TableProblem,
  type Tariff,
  tariffColumns,
  type TariffDifference,
  type TariffFinding,
  writeTariffTable,
} from '@/core/rating'
import { manyDecider, type ManyDecider, orderMemory } from '@/core/rulebook/bulk'
import { emptySummary, tallyMany, type TrialChange, type TrialSummary } from '@/core/rulebook/change'
import { compileRulebook } from '@/core/rulebook/compile'
import { readyWorld, type World } from '@/core/world'
import { newestWorld } from '@/data'
import { changeWorld, currentWorld } from '../shared/changeWorld'
import { refuse, type Answer, type Application } from '../shared/application'
import { trialMaterial } from '../rules/trialMaterial'

export interface TariffsView {
  readonly version: number
  readonly carriers: World['carriers']
  readonly services: readonly { readonly id: string; readonly carrier: string; readonly name: string }[]
  readonly tariffs: readonly (Pick<
    Tariff,
    'service' | 'from' | 'until' | 'currency' | 'basis' | 'dimensionalDivisor' | 'roundUpTo' | 'discountPermille'
  > & { readonly zones: number; readonly bands: number; readonly surcharges: readonly string[] })[]
  readonly findings: readonly TariffFinding[]
}

const hasRate =
  (world: World) =>
  (currency: string): boolean =>
    currency === world.rates.home || (world.rates.micro[currency] ?? 0) > 0

/** All tariffs, the newest of a service first, and what is wrong or doubtful about them. */
export async function showTariffs(gharry: Application): Promise<TariffsView | null> {
  const newest = await newestWorld(gharry.db)
  if (!newest) return null
  const { world, version } = newest
  return {
    version,
    carriers: world.carriers,
    services: world.services.map(({ id, carrier, name }) => ({ id, carrier, name })),
    findings: checkTariffs(world.tariffs, world.services, hasRate(world)),
    tariffs: [...world.tariffs]
      .sort(
        (a, b) =>
          world.services.findIndex(({ id }) => id === a.service) -
            world.services.findIndex(({ id }) => id === b.service) || (a.from < b.from ? 1 : -1),
      )
      .map(({ zones, surcharges, ...tariff }) => ({
        ...tariff,
        zones: Object.keys(zones).length,
        bands: Object.values(zones).reduce((sum, { bands }) => sum + bands.length, 0),
        surcharges: [...new Set(surcharges.map(({ on }) => on))],
      })),
  }
}

/** What one tariff charges: each zone by weight, and its surcharges in words. */
export interface TariffPrices {
  readonly service: string
  readonly from: string
  readonly currency: string
  readonly zones: Tariff['zones']
  readonly surcharges: ReturnType<typeof surchargeLines>
}

export async function showTariffPrices(
  gharry: Application,
  service: string,
  from: string,
): Promise<TariffPrices | null> {
  const tariff = (await newestWorld(gharry.db))?.world.tariffs.find(
    (candidate) => candidate.service === service && candidate.from === from,
  )
  return tariff
    ? { service, from, currency: tariff.currency, zones: tariff.zones, surcharges: surchargeLines(tariff) }
    : null
}

/** Tariffs as a file, of one service or of all. */
export async function exportTariffs(
  gharry: Application,
  format: 'csv' | 'xlsx',
  service: string,
): Promise<Buffer | null> {
  const world = (await newestWorld(gharry.db))?.world
  if (!world) return null
  const rows = writeTariffTable(world.tariffs.filter((tariff) => service === '' || tariff.service === service))
  return format === 'csv' ? csvFile(tariffColumns, rows) : xlsxFile('Tariffs', tariffColumns, rows)
}

export interface TariffPreview {
  readonly version: number
  readonly tariffs: number
  /** Cells that cannot be read: with any, nothing can be taken. */
  readonly problems: readonly TableProblem[]
  readonly findings: readonly TariffFinding[]
  readonly differences: readonly TariffDifference[]
  /** The youngest orders of the last 30 days, decided with the tariffs that hold and with these. */
  readonly effect: { readonly summary: TrialSummary; readonly changes: readonly TrialChange[] } | null
}

const trialDays = 30
const maxOrders = 1500

/**
 * What taking a file of tariffs would change: row by row, and for the orders of the last month. Nothing is changed
 * yet.
 */
export async function previewTariffs(gharry: Application, content: Buffer): Promise<Answer<TariffPreview>> {
  const read = await readTariffFile(gharry, content)
  if (!read.ok) return read
  const { version, world, given, problems } = read
  const merged = mergeTariffs(world.tariffs, given)
  const findings = checkTariffs(merged, world.services, hasRate(world)).filter((finding) =>
    given.some((tariff) => tariff.service === finding.service && (finding.from === '' || tariff.from === finding.from)),
  )
  const blocked = problems.length > 0 || findings.some(({ severity }) => severity === 'error')
  const differences = differencesOf(world.tariffs, merged)
  return {
    ok: true,
    version,
    tariffs: given.length,
    problems: problems.slice(0, 200),
    findings,
    differences,
    effect: blocked || differences.length === 0 ? null : await effectOf(gharry, merged),
  }
}

/** Takes the tariffs of a file: a new version of the world, and the waiting orders are routed again. */
export async function takeTariffs(
  gharry: Application,
  content: Buffer,
  version: number,
): Promise<Answer<{ version: number }>> {
  const read = await readTariffFile(gharry, content)
  if (!read.ok) return read
  const [problem] = read.problems
  if (problem) return refuse('bad-table', `Line ${problem.line}, ${problem.column}: ${problem.sentence}`)
  return changeWorld(gharry, version, 'Tariffs were imported', (world) => {
    const merged = mergeTariffs(world.tariffs, read.given)
    const error = checkTariffs(merged, world.services, hasRate(world)).find(({ severity }) => severity === 'error')
    return error
      ? refuse(
          'bad-tariff',
          `${error.service} from ${error.from}${error.zone ? `, zone ${error.zone}` : ''}: ${error.sentence}`,
        )
      : { ...world, tariffs: merged }
  })
}

/** Takes one tariff out of the list. */
export const removeTariff = (
  gharry: Application,
  service: string,
  from: string,
  version: number,
): Promise<Answer<{ version: number }>> =>
  changeWorld(gharry, version, 'A tariff was deleted', (world) => {
    const left = world.tariffs.filter((tariff) => tariff.service !== service || tariff.from !== from)
    return left.length === world.tariffs.length
      ? refuse('unknown-tariff', 'There is no such tariff any more.')
      : { ...world, tariffs: left }
  })

async function readTariffFile(
  gharry: Application,
  content: Buffer,
): Promise<Answer<{ version: number; world: World; given: readonly Tariff[]; problems: readonly TableProblem[] }>> {
  const newest = await currentWorld(gharry.db)
  const sheet = await readSheet(content, tariffColumns, ['row', 'service', 'from'])
  if (!sheet.ok) return refuse('bad-file', sheet.sentence)
  const { tariffs, problems } = readTariffTable(sheet.rows, newest.world.rates.home)
  if (tariffs.length === 0 && problems.length === 0)
    return refuse('bad-file', 'The file has no tariff: it needs a row "tariff" for each, with its prices below.')
  return { ok: true, version: newest.version, world: newest.world, given: tariffs, problems }
}

// So many orders are decided before others are served.
const portion = 500

async function effectOf(gharry: Application, tariffs: readonly Tariff[]): Promise<TariffPreview['effect']> {
  const material = await trialMaterial(gharry, trialDays, maxOrders)
  if (!material) return null
  const program = compileRulebook(material.inForce, material.world.rates)
  const [before, after] = [material.world, { ...material.world, tariffs }].map((world) =>
    manyDecider(program, orderMemory(readyWorld(world))),
  ) as [ManyDecider, ManyDecider]
  const summary = emptySummary()
  const changes: TrialChange[] = []
  for (let start = 0; start < material.cases.length; start += portion) {
    changes.push(...tallyMany(summary, material.cases.slice(start, start + portion), before, after))
    await new Promise((resolve) => setImmediate(resolve))
  }
  return { summary, changes }
}
