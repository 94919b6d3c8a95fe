import { z } from 'zod'
import { asked, channelKind, type Grant } from '../../connections/kind'
import { beginOAuth, finishOAuth, renewOAuth, type OAuthClient, type Tokens } from '../../connections/oauth'
import { outsideAddress, type CallResult, type Outside } from '../../http'
import { askAuthorisation, marketClient, type CarrierCodes } from './client'

const codeLine = /^\s*([^\s=]+)\s*=\s*(\S+)\s*$/
const settings = z.object({
  address: asked(outsideAddress, {
    label: 'Address of the marketplace',
    help: 'Without the part behind the name, such as https://market.example.',
    input: 'address',
  }),
  clientId: asked(
    z.string().trim().min(1, 'Enter the identifier that the marketplace gave this application.').max(200),
    {
      label: 'Application identifier',
    },
  ),
  clientSecret: asked(z.string().min(1, 'Enter the secret that belongs to the identifier.').max(500), {
    label: 'Application secret',
    secret: true,
  }),
  carrierCodes: asked(
    z
      .string()
      .max(5000)
      .refine(
        (text) => linesOf(text).every((line) => codeLine.test(line)),
        'Write one carrier a line, as in “heron = HERON”.',
      ),
    {
      label: 'Carrier codes',
      help: 'The marketplace’s own code of each carrier, one a line: heron = HERON. It refuses parcels of others: take these under Set-up, Services, so that no others are chosen.',
      input: 'lines',
    },
  ),
})
type Settings = z.output<typeof settings>

const linesOf = (text: string): string[] => text.split('\n').filter((line) => line.trim() !== '')
const codesOf = (text: string): CarrierCodes =>
  new Map(
    linesOf(text).map((line) => {
      const [, carrier = '', code = ''] = codeLine.exec(line) ?? []
      return [carrier.toLowerCase(), code]
    }),
  )
const clientOf = ({ address, clientId, clientSecret }: Settings): OAuthClient => ({
  issuer: `${address}/authorise`,
  clientId,
  clientSecret,
  scope: 'orders despatch',
})

/** Tokens, and when the marketplace says that the authorisation ends. */
async function granted(address: string, tokens: CallResult<Tokens>, outside: Outside): Promise<CallResult<Grant>> {
  if (!tokens.ok) return tokens
  const said = await askAuthorisation(address, tokens.body.access, outside)
  // The tokens are worth keeping, whatever becomes of this question.
  return { ok: true, body: { tokens: tokens.body, endsAt: said.ok ? said.body.until : null } }
}

export const authorisedMarket = channelKind({
  id: 'authorised-market',
  name: 'Marketplace to be authorised',
  about:
    'A marketplace where you allow Gharry to see your orders (OAuth 2.0); the authorisation ends, and can be withdrawn there.',
  settings,
  can: { fetch: true, ahead: true, files: false, told: true, refunds: true, stock: false, mail: false },
  carriersKnown: ({ carrierCodes = '' }) => [...codesOf(carrierCodes).keys()],
  open: ({ address, carrierCodes }, outside, access) => marketClient(address, codesOf(carrierCodes), outside, access),
  authorises: {
    begin: (given, back, outside) => beginOAuth(clientOf(given), back, outside),
    finish: async (given, pending, returned, outside) =>
      granted(given.address, await finishOAuth(clientOf(given), pending, returned, outside), outside),
    renew: async (given, tokens, outside) =>
      granted(given.address, await renewOAuth(clientOf(given), tokens, outside), outside),
  },
})
