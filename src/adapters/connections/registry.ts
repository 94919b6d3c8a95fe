import { counter } from '../carriers/counter/kind'
import { jsonLabels } from '../carriers/json-labels/kind'
import { xmlFreight } from '../carriers/xml-freight/kind'
import { authorisedMarket } from '../channels/authorised-market/kind'
import { byHand } from '../channels/by-hand/kind'
import { files } from '../channels/files/kind'
import { keyedShop } from '../channels/keyed-shop/kind'
import { pushingMarket } from '../channels/pushing-market/kind'
import { sftpFolder } from '../channels/sftp-folder/kind'
import { textGateway } from '../messengers/http-text/kind'
import { papersByMail } from '../partners/mail-papers/kind'
import { warehouse } from '../partners/sftp-warehouse/kind'
import type { CarrierKind, ChannelKind, Kind, MessengerKind, PartnerKind } from './kind'

/** Every kind of connection: a new one is a folder, and a line here. */
const channelKinds: readonly ChannelKind[] = [keyedShop, authorisedMarket, pushingMarket, sftpFolder, files, byHand]
const carrierKinds: readonly CarrierKind[] = [jsonLabels, xmlFreight, counter]

const partnerKinds: readonly PartnerKind[] = [warehouse, papersByMail]
const messengerKinds: readonly MessengerKind[] = [textGateway]

export const kinds: readonly Kind[] = [...channelKinds, ...carrierKinds, ...partnerKinds, ...messengerKinds]
export const channelKindOf = (id: string): ChannelKind | undefined => channelKinds.find((kind) => kind.id === id)
export const carrierKindOf = (id: string): CarrierKind | undefined => carrierKinds.find((kind) => kind.id === id)
export const partnerKindOf = (id: string): PartnerKind | undefined => partnerKinds.find((kind) => kind.id === id)
export const messengerKindOf = (id: string): MessengerKind | undefined => messengerKinds.find((kind) => kind.id === id)

/** A kind by its role and identifier. */
export const kindOf = (role: Kind['role'], id: string): Kind | undefined =>
  kinds.find((kind) => kind.role === role && kind.id === id)
