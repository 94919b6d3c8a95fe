import type { z } from 'zod'
import type { CarrierClient } from '../carriers/carrier'
import type { ChannelClient } from '../channels/channel'
import type { RawOrder } from '@/core/order'
import type { MailClient } from '../mail/smtp'
import type { MessengerClient } from '../messengers/messenger'
import type { PartnerClient } from '../partners/partner'
import type { CallResult, Outside } from '../http'
import type { Tokens } from './oauth'

/*
 * A kind of connection: what sort of interface it speaks, declared in one folder. Its settings are a Zod schema whose
 * fields say how they are asked for (`asked`); the form, the check, and what is kept encrypted come from it.
 */

/** How a setting is asked for. */
export interface Asked {
  readonly label: string
  readonly help?: string
  /** Kept encrypted, and never shown again. */
  readonly secret?: true
  readonly input?: 'text' | 'address' | 'choice' | 'lines'
  readonly choices?: readonly { readonly id: string; readonly name: string }[]
}

/** Says how a field of a settings schema is asked for. */
export const asked = <S extends z.ZodType>(schema: S, how: Asked): S => schema.meta({ asked: how })

/** One field of a kind's form. */
export interface SettingField extends Asked {
  readonly id: string
  readonly needed: boolean
}

/** What a person has allowed at the other side. */
export interface Grant {
  readonly tokens: Tokens
  /** When it ends; null where the other side does not say. */
  readonly endsAt: string | null
}

/** A token to call with; asked for again with one that was refused, a fresh one. */
export interface Access {
  readonly token: (refused?: string) => Promise<CallResult<string>>
}

/** How a person authorises a connection at the other side; `back` is where they return to. */
interface Authorises<Settings> {
  readonly begin: (
    settings: Settings,
    back: string,
    outside: Outside,
  ) => Promise<CallResult<{ readonly url: string; readonly state: string; readonly pending: string }>>
  readonly finish: (settings: Settings, pending: string, returned: URL, outside: Outside) => Promise<CallResult<Grant>>
  /** A failure that is `ended` is the end of the authorisation. */
  readonly renew: (settings: Settings, tokens: Tokens, outside: Outside) => Promise<CallResult<Grant>>
}

/** A message that the other side sent by itself, as it came. */
export interface Message {
  readonly header: (name: string) => string | null
  readonly body: Buffer
  /** Milliseconds since 1970. */
  readonly now: number
}
/** The message's own name, the same when it comes again; or why it is not taken. */
export type Heard = { readonly ok: true; readonly id: string } | { readonly ok: false; readonly sentence: string }

/** How messages of the other side are read: first whether they are its own, later what they say. */
interface Messages<Settings> {
  readonly read: (message: Message, settings: Settings) => Heard
  /** The order as it is now, the identifier of one to ask for, or why it makes no sense. */
  readonly ordersIn: (
    body: string,
  ) => { readonly order: RawOrder } | { readonly about: string } | { readonly bad: string }
}

interface KindOf<Role extends string, Client, Can> {
  readonly role: Role
  readonly id: string
  readonly name: string
  /** What speaks it, in a sentence, for whoever has to choose. */
  readonly about: string
  readonly settings: z.ZodObject
  readonly can: Can
  /** A client with settings that fit the schema. */
  readonly open: (settings: never, outside: Outside, access: Access, mail: MailClient) => Client
  /** Where a person must authorise it first. */
  readonly authorises?: Authorises<never>
}

export interface ChannelCan {
  /** Orders are fetched from it. */
  readonly fetch: boolean
  /**
   * A page may be asked for while the one before is written into the books. Not where asking says that it is in them
   * (its file is put away).
   */
  readonly ahead: boolean
  /** Files with orders come in for it. */
  readonly files: boolean
  /** It is told of parcels. */
  readonly told: boolean
  /** It is told what buyers get back, and pays it; otherwise a person does. */
  readonly refunds: boolean
  /** It says what it has in stock, and takes what is told of it. */
  readonly stock: boolean
  /** Its buyers may be written to; a marketplace may forbid it. */
  readonly mail: boolean
}
export interface ChannelKind extends KindOf<'channel', ChannelClient, ChannelCan> {
  /** It sends messages by itself. */
  readonly messages?: Messages<never>
  /** The seller's carriers that it has codes for, by its settings; absent where it takes any. */
  readonly carriersKnown?: (settings: Readonly<Record<string, string>>) => readonly string[]
}

export interface CarrierCan {
  /** Its balance is topped up in advance. */
  readonly prepaid: boolean
  /** It says how refunds stand; otherwise a person asks. */
  readonly refunds: boolean
  /** It makes labels for what buyers send back, after the parcel has left. */
  readonly returns: boolean
  /** It is told which parcels a driver got. */
  readonly manifests: boolean
  /** Collections are booked with it; otherwise a person calls, and Gharry keeps the record. */
  readonly collections: boolean
}
export type CarrierKind = KindOf<'carrier', CarrierClient, CarrierCan>

export interface PartnerCan {
  /** It is asked for what it has to say; otherwise people there answer on a page. */
  readonly answers: boolean
}
export type PartnerKind = KindOf<'partner', PartnerClient, PartnerCan>

export interface MessengerCan {
  /** It says which messages arrived, and what people answered. */
  readonly answers: boolean
}
export type MessengerKind = KindOf<'messenger', MessengerClient, MessengerCan>
export type Kind = ChannelKind | CarrierKind | PartnerKind | MessengerKind

/** Declares a kind; the settings that `open` gets are those of its schema. */
export const channelKind = <S extends z.ZodObject>(
  kind: Omit<ChannelKind, 'settings' | 'open' | 'role' | 'authorises' | 'messages'> & {
    readonly settings: S
    readonly open: (settings: z.output<S>, outside: Outside, access: Access) => ChannelClient
    readonly messages?: Messages<z.output<S>>
    readonly authorises?: Authorises<z.output<S>>
  },
): ChannelKind => ({ ...kind, role: 'channel' })
export const carrierKind = <S extends z.ZodObject>(
  kind: Omit<CarrierKind, 'settings' | 'open' | 'role' | 'authorises'> & {
    readonly settings: S
    readonly open: (settings: z.output<S>, outside: Outside) => CarrierClient
  },
): CarrierKind => ({ ...kind, role: 'carrier' })

export const partnerKind = <S extends z.ZodObject>(
  kind: Omit<PartnerKind, 'settings' | 'open' | 'role' | 'authorises'> & {
    readonly settings: S
    readonly open: (settings: z.output<S>, outside: Outside, access: Access, mail: MailClient) => PartnerClient
  },
): PartnerKind => ({ ...kind, role: 'partner' })

export const messengerKind = <S extends z.ZodObject>(
  kind: Omit<MessengerKind, 'settings' | 'open' | 'role' | 'authorises'> & {
    readonly settings: S
    readonly open: (settings: z.output<S>, outside: Outside) => MessengerClient
  },
): MessengerKind => ({ ...kind, role: 'messenger' })

/** The fields of a kind's form, in the order of its schema. */
export function fieldsOf({ settings }: Pick<Kind, 'settings'>): readonly SettingField[] {
  return Object.entries(settings.shape).map(([id, schema]) => {
    const type = schema as z.ZodType
    const how = (type.meta() as { asked?: Asked } | undefined)?.asked
    return { label: id, ...how, id, needed: !type.safeParse(undefined).success && !type.safeParse('').success }
  })
}
