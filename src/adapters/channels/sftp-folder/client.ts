import type { CallResult, Outside } from '../../http'
import { csvFile } from '../../files/spreadsheet'
import { largestFile, sftpCaller, type SftpFolder, type SftpPlace } from '../../sftp'
import { afterAll, afterFile, nextFile } from '../../sftpInbox'
import type { ChannelClient, Fulfilment, OrderPage } from '../channel'
import { readable, readOrdersOf } from './files'
import { ublDespatchAdvice } from './ublDespatch'

export interface SftpSettings extends SftpPlace {
  readonly seller: string
  readonly answers: 'ubl' | 'csv'
}

const inbox = { room: 'in', wanted: readable, done: 'done', refused: 'refused' }

/**
 * A folder at an SFTP server: `in` holds files of orders, `done` and `refused` those that were read, `out` the despatch
 * advices.
 */
export function sftpClient(settings: SftpSettings, outside: Outside): ChannelClient {
  const connected = sftpCaller(
    settings,
    outside,
    'The folder “in” is not there: make it at the server, or correct the folder.',
  )
  const tell = (fulfilment: Fulfilment, key: string, withdrawn: boolean): Promise<CallResult<unknown>> =>
    connected(({ put }) => {
      const at = new Date()
      return settings.answers === 'ubl'
        ? put(
            'out',
            `despatch-${key}.xml`,
            ublDespatchAdvice(fulfilment, { id: key, seller: settings.seller, at, withdrawn }),
          )
        : put('out', `despatch-${key}.csv`, csvAdvice(fulfilment, withdrawn))
    })

  return {
    fetchOrders: (cursor) => connected((folder) => fetchPage(folder, cursor)),
    fulfil: (fulfilment, key) => tell(fulfilment, key, false),
    withdraw: (remoteOrder, trackingNumber, key) =>
      tell(
        { remoteOrder, trackingNumber, recipient: 'withdrawn', carrier: '', carrierId: '', trackingUrl: '', lines: [] },
        key,
        true,
      ),
  }
}

/** One file a page, the oldest first; those of the page before are put away. */
async function fetchPage(folder: SftpFolder, cursor: string): Promise<OrderPage> {
  const next = await nextFile(folder, inbox, cursor)
  if (!next) return { orders: [], bad: [], cursor: afterAll, more: false }
  const { file, content, more } = next
  const read =
    content === null
      ? {
          orders: [],
          bad: [{ row: file.name, reason: `The file is larger than ${largestFile / 1e6} MB: split it.` }],
        }
      : await readOrdersOf(file.name, content)
  return { ...read, bad: [...read.bad], cursor: afterFile(file, read.orders.length > 0), more }
}

const adviceColumns = ['order', 'line', 'quantity', 'carrier', 'tracking number', 'link', 'state']
const csvAdvice = (
  { remoteOrder, carrier, trackingNumber, trackingUrl, lines }: Fulfilment,
  withdrawn: boolean,
): Buffer =>
  csvFile(
    adviceColumns,
    (lines.length > 0 ? lines : [{ line: '', quantity: 0 }]).map(({ line, quantity }) => ({
      ...{ order: remoteOrder, line, quantity: String(quantity), carrier, 'tracking number': trackingNumber },
      ...{ link: trackingUrl, state: withdrawn ? 'withdrawn' : 'despatched' },
    })),
  )
