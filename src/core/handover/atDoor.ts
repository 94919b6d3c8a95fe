/** A parcel that was scanned at the door. */
export interface AtDoor {
  /** Its tracking number. */
  readonly number: string
  readonly order: string
  readonly carrier: string
  readonly location: string
  readonly state: 'queued' | 'bought' | 'failed' | 'voiding' | 'voided'
  /** All parcels of its shipment were checked by scan. */
  readonly checked: boolean
  /** What became of its order since the label was bought; null while nothing did. */
  readonly flag: string | null
  /** The carrier has it already, as its news say. */
  readonly underWay: boolean
  /** On which manifest it stands; null on none. */
  readonly manifest: number | null
}

/** For which lorry the door is open. */
export interface Door {
  readonly carrier: string
  readonly location: string
  /** Its manifest; null before the first parcel. */
  readonly manifest: number | null
  /** The location asks that nothing unchecked is handed over. */
  readonly mustBeChecked: boolean
}

/** `right`: it goes on the lorry; `again`: it was scanned before; `wrong`: it stays here, and why. */
export type DoorVerdict =
  { readonly verdict: 'right' | 'again' } | { readonly verdict: 'wrong'; readonly words: string; readonly more: string }

const wrong = (words: string, more: string): DoorVerdict => ({ verdict: 'wrong', words, more })

/**
 * Whether a parcel may go on the lorry that stands at the door; the first thing that speaks against it is said.
 * @param nameOf the name of a carrier or location, for the sentence
 */
export function atDoor(parcel: AtDoor, door: Door, nameOf: (id: string) => string): DoorVerdict {
  if (parcel.state === 'voided' || parcel.state === 'voiding')
    return wrong('Label voided', `${parcel.order}: take the label off, and put the parcel aside.`)
  if (parcel.state !== 'bought')
    return wrong(
      'Not bought',
      `${parcel.order}: its label is ${parcel.state === 'queued' ? 'still being bought' : parcel.state}.`,
    )
  if (parcel.carrier !== door.carrier)
    return wrong(
      `Wrong carrier: ${nameOf(parcel.carrier)}`,
      `${parcel.order} does not go with ${nameOf(door.carrier)}.`,
    )
  if (parcel.location !== door.location)
    return wrong(`Belongs to ${nameOf(parcel.location)}`, `${parcel.order} is to leave from there.`)
  if (parcel.manifest !== null)
    return parcel.manifest === door.manifest
      ? { verdict: 'again' }
      : wrong(`On manifest M${parcel.manifest} already`, `${parcel.order} was handed over with it.`)
  if (parcel.underWay) return wrong('On its way already', `${parcel.order}: the carrier has scanned it before.`)
  if (parcel.flag !== null) return wrong('The order has changed', `${parcel.order}: ${parcel.flag}`)
  if (door.mustBeChecked && !parcel.checked)
    return wrong('Not checked', `${parcel.order} was not checked at a bench, as this location asks for.`)
  return { verdict: 'right' }
}
