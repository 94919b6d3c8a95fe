import { SegmentedMessage } from 'sms-segments-calculator'

/** What a text message is made of. */
export interface SmsWeight {
  /** How many messages it is charged as. */
  readonly parts: number
  /** GSM-7 holds 160 signs in one (153 in each of several), UCS-2 70 (67): 3GPP TS 23.038 and 23.040. */
  readonly alphabet: 'GSM-7' | 'UCS-2'
  /** Signs that are not in the small alphabet, each once. */
  readonly costly: readonly string[]
}

/** In how many parts a text goes, and which signs of it make it so. */
export function smsWeight(text: string): SmsWeight {
  const message = new SegmentedMessage(text)
  return {
    parts: message.segmentsCount,
    alphabet: message.encodingName === 'GSM-7' ? 'GSM-7' : 'UCS-2',
    costly: [...new Set<string>(message.getNonGsmCharacters())].slice(0, 12),
  }
}
