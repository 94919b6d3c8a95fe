import { channelKindOf } from '@/adapters'
import { changeChannel, type ChannelRow, countStock, freeStockSince, listChannels, stockVersion } from '@/data'
import { type Answer, type Application, refuse } from '../../shared/application'
import { currentWorld } from '../../shared/changeWorld'
import { heedStock } from './routeForStock'

const mostPages = 20
const mostTold = 500

/** Hears from channels what they have in stock, tells others what is free, and has waiting orders follow. */
export async function keepStockTold(gharry: Application): Promise<void> {
  for (const channel of await listChannels(gharry.db)) {
    if (channel.retired || channel.stock === '' || !channelKindOf(channel.kind)?.can.stock) continue
    const problem = channel.stock === 'says' ? await hear(gharry, channel) : await tell(gharry, channel)
    if (problem !== channel.stockProblem) await changeChannel(gharry.db, channel.id, { stockProblem: problem })
  }
  await heedStock(gharry)
}

/** What the channel says is counted is what is there. Gives why it could not be asked. */
async function hear(gharry: Application, channel: ChannelRow): Promise<string | null> {
  const client = await gharry.channel(channel.id)
  let { stockCursor: cursor } = channel
  for (let page = 0; page < mostPages; page++) {
    const result = await client.stock?.(cursor)
    if (!result) return null
    if (!result.ok) return result.sentence
    const { levels, more } = result.body
    await gharry.db.transaction(async (trx) => {
      await countStock(trx, channel.stockLocation, levels, {
        ...{ at: gharry.now().toISOString(), kind: 'channel', note: '', author: channel.name },
      })
      await changeChannel(trx, channel.id, { stockCursor: result.body.cursor })
    })
    if (!more || result.body.cursor === cursor) return null
    cursor = result.body.cursor
  }
  return null
}

/**
 * Tells what is free now of what has moved since it was told last: what is told twice is the same. Gives why it could
 * not be told.
 */
async function tell(gharry: Application, channel: ChannelRow): Promise<string | null> {
  const { db } = gharry
  const version = await stockVersion(db)
  if (version === channel.stockTold) return null
  const client = await gharry.channel(channel.id)
  const levels = await freeStockSince(db, channel.stockTold, 1_000_000)
  for (let i = 0; i < levels.length; i += mostTold) {
    const result = await client.tellStock?.(levels.slice(i, i + mostTold))
    if (result && !result.ok) return result.sentence
  }
  await changeChannel(db, channel.id, { stockTold: version })
  return null
}

/** Sets whether a channel says what is in stock at a location, is told what is free, or neither. */
export async function setChannelStock(
  gharry: Application,
  {
    channel: id,
    stock,
    location,
  }: { readonly channel: string; readonly stock: ChannelRow['stock']; readonly location: string },
): Promise<Answer<object>> {
  const channel = (await listChannels(gharry.db)).find((one) => one.id === id)
  if (!channel) return refuse('unknown-channel', `There is no channel "${id}".`)
  if (stock !== '' && !channelKindOf(channel.kind)?.can.stock)
    return refuse('bad-value', `${channel.name} neither says nor takes what is in stock.`)
  const { world } = await currentWorld(gharry.db)
  if (stock === 'says' && !world.locations.some((one) => one.id === location))
    return refuse('unknown-location', 'Choose the location whose stock it says.')
  await changeChannel(gharry.db, id, {
    ...{ stock, stockLocation: stock === 'says' ? location : '', stockProblem: null },
    // From the beginning: all of it is told, or heard, once.
    ...(stock === channel.stock && location === channel.stockLocation ? {} : { stockCursor: '', stockTold: 0 }),
  })
  return { ok: true }
}
