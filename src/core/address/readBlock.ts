import { postcodeValidator } from 'postcode-validator'
import { type Address, countryCode, trimSigns } from '@/core/order'
import { mail } from './mail'

/** What was found in a pasted address. */
export interface ReadBlock {
  readonly address: Address
  readonly email: string
  readonly phone: string
}

// Nobody's address is longer.
const maxBlockLength = 2000
const phone = /(?:\+|00)\s?\d[\d\s./()-]{7,18}\d/
const legal = /\b(bv|bvba|nv|gmbh|ag|kg|sarl|sas|sa|ltd|limited|llc|inc|sp\. ?z ?o\. ?o\.|srl|spa|oy|ab|as|aps)\b\.?$/i

/**
 * Reads an address that was pasted as one block, lines or commas between its parts. The last line may be the country,
 * the one before it holds postcode and city; the first is the name. What cannot be told apart stays a street line, so
 * nothing is lost. `country` is taken when the block names none.
 */
export function readAddressBlock(pasted: string, country: string): ReadBlock {
  const text = pasted.slice(0, maxBlockLength)
  const email = mail.exec(text)?.[0] ?? ''
  const number = phone.exec(text)?.[0]?.trim() ?? ''
  const plain = text
    .normalize('NFKC')
    .replace(mail, '')
    .replace(number, '')
    .replace(/\b(e-?mail|tel|phone|gsm|mobile)\b\.?:?/gi, '')
  const parts = (plain.includes('\n') ? plain.split('\n') : plain.split(','))
    .map((part) => trimSigns(part.replace(/\s+/g, ' '), ' ,;'))
    .filter(Boolean)
  const named = parts.length > 1 ? countryCode(parts[parts.length - 1]!) : null
  if (named) parts.pop()
  const code = named ?? country
  const place = takePlace(parts, code)
  const name = parts.shift() ?? ''
  const firm = parts.findIndex((part) => legal.test(part))
  const company = firm >= 0 ? parts.splice(firm, 1)[0]! : ''
  return {
    email,
    phone: number,
    address: {
      name: legal.test(name) && company === '' ? '' : name,
      company: legal.test(name) && company === '' ? name : company,
      lines: parts,
      ...place,
      country: code,
    },
  }
}

/**
 * Takes the line with postcode and city out of the parts; in some countries the postcode stands on a line of its own
 * behind the city.
 */
function takePlace(parts: string[], country: string): Pick<Address, 'postcode' | 'city' | 'region'> {
  for (let i = parts.length - 1; i >= Math.max(1, parts.length - 3); i--) {
    const words = parts[i]!.replace(new RegExp(`^${country}-(?=\\d)`), '').split(' ')
    for (const take of [1, 2]) {
      const [before, after] = [words.slice(0, take).join(' '), words.slice(-take).join(' ')]
      if (words.length > take && valid(before, country)) {
        parts.splice(i, 1)
        return { postcode: before.toUpperCase(), city: words.slice(take).join(' ').replace(/,$/, ''), region: '' }
      }
      if (words.length >= take && valid(after, country))
        return behind(parts, i, words.slice(0, -take), after.toUpperCase())
    }
  }
  return { postcode: '', city: parts.length > 2 ? parts.pop()! : '', region: '' }
}

/** `Portland, OR 97205`, `Leeds LS1 4DY`, or the postcode alone with the city on the line before. */
function behind(
  parts: string[],
  at: number,
  words: string[],
  postcode: string,
): Pick<Address, 'postcode' | 'city' | 'region'> {
  parts.splice(at, 1)
  if (words.length === 0) return { postcode, city: at > 1 ? (parts.splice(at - 1, 1)[0] ?? '') : '', region: '' }
  const region = words.length > 1 && /^[A-Z]{2,3}$/.test(words[words.length - 1]!) ? words.pop()! : ''
  return { postcode, city: words.join(' ').replace(/,$/, ''), region }
}

function valid(text: string, country: string): boolean {
  try {
    return /\d/.test(text) && postcodeValidator(text.toUpperCase(), country)
  } catch {
    // A country that the package does not know has no form to go by.
    return false
  }
}
