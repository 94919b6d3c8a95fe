import { XMLBuilder, XMLParser } from 'fast-xml-parser'
import type { z } from 'zod'
import { failure, reach, statusFailure, type CallFailure, type CallResult, type Outside } from '../../http'

export interface Account {
  readonly address: string
  readonly account: string
  readonly password: string
}

const builder = new XMLBuilder({ ignoreAttributes: false, attributeNamePrefix: '@', suppressEmptyNode: true })
const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  parseTagValue: false,
  parseAttributeValue: false,
  alwaysCreateTextNode: true,
  isArray: (name) => ['Piece', 'Event', 'Booked', 'Paid'].includes(name),
})

/** A fault has a code; what the sentence behind it means for us follows from the code alone. */
const kindOf: Readonly<Record<string, CallFailure['kind']>> = {
  AUTH: 'not allowed',
  BUSY: 'server error',
  SLOW: 'rate-limited',
  REJECTED: 'refused',
}

/**
 * Sends one document and reads the one that comes back. All answers have the status 200: what went wrong is a `Fault`
 * in the document. The message's number makes it repeatable.
 */
export async function ask<T>(
  { address, account, password }: Account,
  outside: Outside,
  message: string,
  content: object,
  schema: z.ZodType<T>,
): Promise<CallResult<T>> {
  const document: string = builder.build({
    '?xml': { '@version': '1.0', '@encoding': 'UTF-8' },
    FreightRequest: { '@account': account, '@password': password, '@message': message, ...content },
  })
  const reached = await reach(outside, `${address}/freight`, {
    method: 'POST',
    headers: { 'content-type': 'application/xml', accept: 'application/xml' },
    body: document,
  })
  if (!reached.ok) return reached
  const against = statusFailure(reached)
  if (against) return against
  const answer = answerOf(reached.text)
  if (!answer) return failure('garbled answer', 'Its answer is no document of its interface.')
  if (answer.Fault) return faultOf(answer.Fault)
  const parsed = schema.safeParse(answer)
  return parsed.success
    ? { ok: true, body: parsed.data }
    : failure('garbled answer', `Its answer cannot be used (${parsed.error.issues[0]?.path.join('.') ?? 'document'}).`)
}

interface Fault {
  readonly '@code'?: string
  readonly '@wait'?: string
  readonly '#text'?: string
}

function answerOf(text: string): { readonly Fault?: Fault } | undefined {
  try {
    const { FreightResponse: answer } = parser.parse(text, true) as { FreightResponse?: { readonly Fault?: Fault } }
    return typeof answer === 'object' ? answer : undefined
  } catch {
    return undefined
  }
}

function faultOf({ '@code': code = '', '@wait': wait, '#text': text = '' }: Fault): CallFailure {
  const kind = kindOf[code] ?? 'refused'
  const said = text.slice(0, 300)
  return failure(
    kind,
    kind === 'not allowed'
      ? `It refuses the credentials${said ? `: ${said}` : '.'} Enter them again.`
      : said || `It refused with the code ${code.slice(0, 40)}.`,
    Number(wait) || 0,
  )
}
