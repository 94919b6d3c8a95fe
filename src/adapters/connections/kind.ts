import type { z } from 'zod'
import type { CarrierClient } from '../carriers/carrier'
import type { ChannelClient } from '../channels/channel'
import type { Outside } from '../http'

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

interface KindOf<Role extends string, Client, Can> {
  readonly role: Role
  readonly id: string
  readonly name: string
  /** What speaks it, in a sentence, for whoever has to choose. */
  readonly about: string
  readonly settings: z.ZodObject
  readonly can: Can
  /** A client with settings that fit the schema. */
  readonly open: (settings: never, outside: Outside) => Client
}

export interface ChannelCan {
  /** Orders are fetched from it. */
  readonly fetch: boolean
  /** Files with orders come in for it. */
  readonly files: boolean
  /** It is told of parcels. */
  readonly told: boolean
}
export type ChannelKind = KindOf<'channel', ChannelClient, ChannelCan>

export interface CarrierCan {
  /** Its balance is topped up in advance. */
  readonly prepaid: boolean
}
export type CarrierKind = KindOf<'carrier', CarrierClient, CarrierCan>
export type Kind = ChannelKind | CarrierKind

/** Declares a kind; the settings that `open` gets are those of its schema. */
export const channelKind = <S extends z.ZodObject>(
  kind: Omit<ChannelKind, 'settings' | 'open' | 'role'> & {
    readonly settings: S
    readonly open: (settings: z.output<S>, outside: Outside) => ChannelClient
  },
): ChannelKind => ({ ...kind, role: 'channel' })
export const carrierKind = <S extends z.ZodObject>(
  kind: Omit<CarrierKind, 'settings' | 'open' | 'role'> & {
    readonly settings: S
    readonly open: (settings: z.output<S>, outside: Outside) => CarrierClient
  },
): CarrierKind => ({ ...kind, role: 'carrier' })

/** The fields of a kind's form, in the order of its schema. */
export function fieldsOf({ settings }: Pick<Kind, 'settings'>): readonly SettingField[] {
  return Object.entries(settings.shape).map(([id, schema]) => {
    const type = schema as z.ZodType
    const how = (type.meta() as { asked?: Asked } | undefined)?.asked
    return { label: id, ...how, id, needed: !type.safeParse(undefined).success && !type.safeParse('').success }
  })
}
