import type { Message } from '@/data'
import type { settleRestored } from './backups/afterRestore'
import type { combineGroups, takeApart } from './desk/combineOrders'
import type { correctAddress, readBlock, showAddress } from './desk/correctAddress'
import type { editMany, showEdits, undoEdit } from './desk/editMany'
import type { ManyEdit } from './desk/manyEdit'
import type { previewEdit } from './desk/previewEdit'
import type { pinDecision, releasePin } from './desk/pinDecision'
import type { showDeciding } from './desk/showDeciding'
import type { numbersOf, placeOnDesk, selectDesk, showDesk, spreadDesk } from './desk/showDesk'
import type { showOrder } from './desk/showOrder'
import type { showPacking } from './desk/showPacking'
import type { removeView, saveView, showViews } from './desk/views'
import type { showWays, takeWay } from './desk/waysOut'
import type {
  forgetLetterText,
  previewLetters,
  saveLetterText,
  showLetterTexts,
  ToWrite,
  writeToBuyers,
} from './desk/writeToBuyers'
import type { printAtBench, readScale, saveBench } from './dispatch/bench/benchPrinter'
import type { buyAtBench, offerAtBench } from './dispatch/bench/buyAtBench'
import type { putParcelAside, scanItems, undoLast, weighParcel } from './dispatch/bench/checkParcel'
import type { openParcel } from './dispatch/bench/openParcel'
import type { showBench } from './dispatch/bench/showBench'
import type { buyBatch } from './dispatch/buyBatch'
import type { dispatchBatch } from './dispatch/dispatchLabels'
import type { saveAgreements } from './dispatch/collections/agreements'
import type {
  bookCollection,
  cancelCollection,
  CollectionFor,
  replanCollection,
  showTerms,
} from './dispatch/collections/planCollection'
import type { showCollections } from './dispatch/collections/showCollections'
import type { findAtCounter, handOut, settleLate } from './dispatch/counter/handOut'
import type { shelveOrder } from './dispatch/counter/shelve'
import type { showCounter } from './dispatch/counter/showCounter'
import type { closeDoor, Closing } from './dispatch/door/closeDoor'
import type { sendManifestAgain } from './dispatch/door/deliverManifest'
import type { showDoor } from './dispatch/door/doorView'
import type { DoorScan, newContainer, scanAtDoor, takeOff } from './dispatch/door/scanAtDoor'
import type { settleLeftBehind, showManifests } from './dispatch/door/showManifests'
import type { planBatch } from './dispatch/planBatch'
import type { PrintProfile } from './dispatch/printBatch'
import type { showBatch, showBatches } from './dispatch/showBatches'
import type { previewSlip, removeSlip, saveSlip, showSlips } from './dispatch/slips'
import type { setChannelStock } from './dispatch/stock/channelsStock'
import type { countByHand, showMoves, showStock } from './dispatch/stock/showStock'
import type { previewStock, takeStockFile } from './dispatch/stock/stockFile'
import type { requestVoid } from './dispatch/voidLabel'
import type { voidMany } from './dispatch/voidMany'
import type { saveWaves, showDay } from './dispatch/waves'
import type { changeChannelSettings, cancelImport, retryAll } from './intake/changeChannel'
import type { findItems, showRecipient, typeOrder, TypedOrder, TypedQuote } from './desk/typeOrder'
import type { removeConnection, saveConnection, showConnections, testConnection } from './intake/connections'
import type { receiveFile, requestFileImport } from './intake/importFile'
import type { importAll, requestImport } from './intake/importOrders'
import type { changeItems, previewItems, removeItem, showItems, takeItems, takeLearned } from './intake/items'
import type { showImportProblems, showIntake } from './intake/showIntake'
import type { changeWordings, showWordings } from './intake/wordings'
import type { markClaimed, settleClaim, showClaims } from './ledger/claims'
import type { setMark, showMoney, topUp } from './ledger/balances'
import type { lookAtInvoice, takeInvoice, takeInvoiceBack } from './ledger/invoices'
import type { Exploration, exploreRates } from './ledger/exploreRates'
import type { ReportAsked, saveAccounts, showReport } from './ledger/report'
import type { showRuleCosts } from './rules/ruleCosts'
import type { markAsked, settleRefund, showRefunds } from './ledger/refunds'
import type { showLedger } from './ledger/showLedger'
import type { previewTariffs, removeTariff, showTariffPrices, showTariffs, takeTariffs } from './ledger/tariffs'
import type { changeWebhook, makeWebhook, showWebhooks } from './open/webhooks'
import type { endToken, makeToken, showTokens } from './open/tokens'
import type { askForPasskey, beginPasskey, keepPasskey, signInByPasskey } from './people/passkeys'
import type { changePassword, endElsewhere, forgetPasskey, showAccount } from './people/account'
import type { showAudit } from './people/audit'
import type { endBadge, makeBadge } from './people/badges'
import type { changePersonBy, endAllOf, invite, newLink, PersonChange, PersonGiven, showPeople } from './people/people'
import type { chooseWatched, showProposals } from './people/proposals'
import type { confirmSecond, proposeSecond, removeSecond } from './people/secondFactor'
import type { exportBuyer, findBuyer, forgetBuyer, LifeRow, saveLife, showPrivacy } from './privacy/buyers'
import type {
  publishDraft,
  restoreEdition,
  saveDraft,
  showEditions,
  showRulebook,
  withdrawScheduled,
} from './rules/editRulebook'
import type { pinExample, repinExample, unpinExample } from './rules/pinnedOrders'
import type { cancelTrial, compareTrails, showTrialChanges, showTrialRun, startTrial } from './rules/runTrial'
import type { showRerouting } from './rules/showRerouting'
import type { showSuggestions } from './rules/suggestRules'
import type { trialMaterial } from './rules/trialMaterial'
import type { changeList, previewList, showUses } from './setup/changeList'
import type { showOwnServices, takeOwnServices } from './setup/carriersOwn'
import type { connectOutside, showOutside } from './setup/outside'
import type { setDemand } from './setup/demands'
import type { ListChange, ListName } from './setup/lists'
import type { takePicture } from './setup/pictures'
import type { takeItemPicture } from './intake/itemPictures'
import type { sayClockIsRight, showHealth } from './health/showHealth'
import type { saveSeller, SellerSettings } from './setup/seller'
import type { showSetup } from './setup/showSetup'
import type { readZoneFile } from './setup/zoneFile'
import type { find } from './shared/find'
import type { showLine } from './shared/showLine'
import type { makeFeed, showFeed } from './tracking/calendars'
import type { closeCustomerWords } from './tracking/customerWords'
import type { saveFaces, showFaces, takeLogo } from './tracking/faces'
import type { sendNoticeAgain, writeToThemAgain } from './tracking/noticesByHand'
import type { previewNotice, saveNotices, showNotices } from './tracking/noticeSettings'
import type { showArrivals, showLanes } from './tracking/showArrivals'
import type { NumberLine, takeNumbers } from './tracking/manyNumbers'
import type { OwnNumbers, recordOwnNumbers } from './tracking/ownNumbers'
import type { showBoard, showBoardDays, spreadBoard } from './tracking/showBoard'
import type { answerReturn } from './tracking/returns/answerReturn'
import type { askReturnFor } from './tracking/returns/askReturn'
import type { CheckedReturn, checkReturn, findReturn } from './tracking/returns/checkReturn'
import type { paidByHand } from './tracking/returns/payBack'
import type { ReturnList, showReturns } from './tracking/returns/showReturns'
import type { showTracking } from './tracking/showTracking'

// What use cases take and give is said once, by themselves.
type AnyUseCase = (...args: never[]) => unknown
/** The view that a reading use case gives; none is a 404. */
type Shown<F extends AnyUseCase> = NonNullable<Awaited<ReturnType<F>>>
/** What a changing use case gives when it was done; else it refuses (`refusals.ts`). */
type Done<F extends AnyUseCase> = Extract<Awaited<ReturnType<F>>, { readonly ok: true }>

interface Version {
  readonly version: number
}
interface Nothing {
  readonly [key: string]: never
}
interface Printing {
  readonly body: Partial<PrintProfile>
  readonly answer: { readonly ok: true; readonly file: string; readonly pages: number }
}
/** A step of signing in: what comes next. What the browser keeps of it is no part of the answer. */
interface Step {
  readonly ok: true
  readonly next: 'second' | 'done'
}
type TextQuery = Readonly<Record<string, string | number>>

/**
 * Every call that the interface makes of the server: method and path, what goes along, and what comes back. The routes
 * answer by it and the interface asks by it, so that a wrong path, body or answer does not compile.
 */
export interface Endpoints {
  'GET /api/find': { query: { q: string }; answer: Shown<typeof find> }
  'GET /api/line': { answer: Shown<typeof showLine> }

  'GET /api/intake': { query: { skip: string }; answer: Shown<typeof showIntake> }
  'POST /api/intake/files': { file: true; answer: Done<typeof receiveFile> }
  'POST /api/intake/imports': { body: Parameters<typeof requestFileImport>[1]; answer: Done<typeof requestFileImport> }
  'GET /api/intake/imports/:id': { answer: Shown<typeof showImportProblems> }
  'DELETE /api/intake/imports/:id': { body: Nothing; answer: Done<typeof cancelImport> }
  'PATCH /api/intake/channels/:id': {
    body: Parameters<typeof changeChannelSettings>[2]
    answer: Done<typeof changeChannelSettings>
  }
  'GET /api/intake/connections': { answer: Shown<typeof showConnections> }
  'POST /api/intake/connections': { body: Parameters<typeof saveConnection>[2]; answer: Done<typeof saveConnection> }
  'PUT /api/intake/connections/:id': { body: Parameters<typeof saveConnection>[2]; answer: Done<typeof saveConnection> }
  'DELETE /api/intake/connections/:id': { body: Version; answer: Done<typeof removeConnection> }
  'POST /api/intake/connections/:id/authorise': { body: Nothing; answer: { readonly ok: true; readonly url: string } }
  'POST /api/intake/connections/test': {
    body: Parameters<typeof saveConnection>[2] & { readonly id?: string }
    answer: Done<typeof testConnection>
  }
  'POST /api/intake/imports/all': { body: Nothing; answer: Done<typeof importAll> }
  'POST /api/intake/channels/:id/import': { body: Nothing; answer: Done<typeof requestImport> }
  'GET /api/intake/items': { query: { q: string }; answer: Shown<typeof showItems> }
  'PUT /api/intake/items': {
    body: Version & { rows: readonly Readonly<Record<string, string>>[] }
    answer: Done<typeof changeItems>
  }
  'DELETE /api/intake/items': { body: Version & { sku: string }; answer: Done<typeof removeItem> }
  'POST /api/intake/items/learned': { body: Version & { sku: string }; answer: Done<typeof takeLearned> }
  'POST /api/intake/items/file': { file: true; answer: Done<typeof previewItems> }
  'PUT /api/intake/items/file': { file: true; query: Version; answer: Done<typeof takeItems> }
  'GET /api/intake/wordings': { answer: Shown<typeof showWordings> }
  'PUT /api/intake/wordings': {
    body: Version & { channel: string; rows: unknown }
    answer: Done<typeof changeWordings>
  }

  'GET /api/setup': { answer: Shown<typeof showSetup> }
  'PUT /api/setup/lists': { body: ListChange; answer: Done<typeof changeList> }
  'POST /api/setup/lists/effect': { body: ListChange; answer: Done<typeof previewList> }
  'GET /api/setup/uses': { query: { list: ListName; key: string }; answer: Shown<typeof showUses> }
  'PUT /api/setup/seller': {
    body: { before: SellerSettings; after: SellerSettings }
    answer: Done<typeof saveSeller>
  }
  'GET /api/setup/privacy': { answer: Shown<typeof showPrivacy> }
  'PUT /api/setup/privacy': {
    body: { before: readonly LifeRow[]; after: readonly LifeRow[] }
    answer: Done<typeof saveLife>
  }
  'POST /api/setup/privacy/buyer': { body: { who: string }; answer: Shown<typeof findBuyer> }
  'POST /api/setup/privacy/copy': { body: { who: string }; answer: Done<typeof exportBuyer> }
  'POST /api/setup/privacy/forget': { body: Parameters<typeof forgetBuyer>[1]; answer: Done<typeof forgetBuyer> }
  'GET /api/setup/health': { answer: Shown<typeof showHealth> }
  'POST /api/setup/health/restored': { body: Nothing; answer: Done<typeof settleRestored> }
  'POST /api/setup/health/clock': { body: Nothing; answer: Done<typeof sayClockIsRight> }
  'PUT /api/setup/demands': { body: { demand: Parameters<typeof setDemand>[1] }; answer: Done<typeof setDemand> }
  'PUT /api/intake/items/pictures': { file: true; query: { name: string }; answer: Done<typeof takeItemPicture> }
  'PUT /api/setup/pictures': { file: true; query: { preset: string }; answer: Done<typeof takePicture> }
  'POST /api/setup/carriers/:id': { body: Nothing; answer: Done<typeof showOwnServices> }
  'PUT /api/setup/carriers/:id': { body: { services: readonly string[] }; answer: Done<typeof takeOwnServices> }
  'GET /api/setup/tokens': { answer: Shown<typeof showTokens> }
  'POST /api/setup/tokens': { body: { name: string; scopes: readonly string[] }; answer: Done<typeof makeToken> }
  'DELETE /api/setup/tokens': { body: { id: number }; answer: Done<typeof endToken> }
  'GET /api/setup/webhooks': { answer: Shown<typeof showWebhooks> }
  'POST /api/setup/webhooks': { body: Parameters<typeof makeWebhook>[1]; answer: Done<typeof makeWebhook> }
  'PUT /api/setup/webhooks': {
    body: { id: string; change: Parameters<typeof changeWebhook>[2] }
    answer: Done<typeof changeWebhook>
  }
  'GET /api/setup/calendar': { answer: Shown<typeof showFeed> }
  'POST /api/setup/calendar': { body: Nothing; answer: Done<typeof makeFeed> }
  'GET /api/setup/outside': { answer: Shown<typeof showOutside> }
  'POST /api/setup/outside': { body: { name: string }; answer: Done<typeof connectOutside> }
  'POST /api/setup/zones': { file: true; answer: Done<typeof readZoneFile> }

  'GET /api/rules/rulebook': { answer: Shown<typeof showRulebook> }
  'GET /api/rules/editions': { query: { skip: string }; answer: Shown<typeof showEditions> }
  'PUT /api/rules/rulebook': { body: { rulebook: unknown; revision: number }; answer: Done<typeof saveDraft> }
  'POST /api/rules/rulebook/publish': {
    body: { revision: number; note: string; from?: string }
    answer: Done<typeof publishDraft>
  }
  'DELETE /api/rules/rulebook/publish': { body: { edition: number }; answer: Done<typeof withdrawScheduled> }
  'POST /api/rules/rulebook/restore': {
    body: { edition: number; revision: number }
    answer: Done<typeof restoreEdition>
  }
  'GET /api/rules/rerouting': { answer: { rerouting: Awaited<ReturnType<typeof showRerouting>> } }
  'GET /api/rules/suggestions': { answer: Shown<typeof showSuggestions> }
  'POST /api/rules/pinned/:id': { body: { note: string }; answer: Done<typeof repinExample> }
  'DELETE /api/rules/pinned/:id': { body: Nothing; answer: Done<typeof unpinExample> }
  'GET /api/rules/trial': { query: { days?: number; most?: number }; answer: Shown<typeof trialMaterial> }
  'POST /api/rules/trials': {
    body: { from: string; until: string; channels?: readonly string[]; everyNth?: number; asOf?: string }
    answer: Done<typeof startTrial>
  }
  'GET /api/rules/trials/newest': { answer: { trial: Awaited<ReturnType<typeof showTrialRun>> } }
  'GET /api/rules/trials/:id': { answer: Shown<typeof showTrialRun> }
  'DELETE /api/rules/trials/:id': { body: Nothing; answer: Done<typeof cancelTrial> }
  'GET /api/rules/trials/:id/changes': {
    query: { skip?: number; most?: number }
    answer: Shown<typeof showTrialChanges>
  }
  'GET /api/rules/trials/compare': { query: { order: number; trial?: number }; answer: Shown<typeof compareTrails> }

  'GET /api/desk': { query: TextQuery; answer: Shown<typeof showDesk> }
  'POST /api/desk/typed': { body: TypedOrder; answer: Done<typeof typeOrder> }
  'POST /api/desk/typed/quote': { body: TypedOrder; answer: TypedQuote }
  'GET /api/desk/typed/items': { query: { q: string }; answer: Shown<typeof findItems> }
  'GET /api/desk/orders/:id/recipient': { answer: Shown<typeof showRecipient> }
  'GET /api/desk/ids': { query: TextQuery; answer: Shown<typeof selectDesk> }
  'GET /api/desk/place': { query: TextQuery; answer: Shown<typeof placeOnDesk> }
  'GET /api/desk/spread': { query: TextQuery; answer: Shown<typeof spreadDesk> }
  'POST /api/desk/address': {
    body: { text: string; country: string }
    answer: { ok: true } & ReturnType<typeof readBlock>
  }
  'POST /api/desk/orders/combine': {
    body: { groups: readonly (readonly number[])[] }
    answer: Done<typeof combineGroups>
  }
  'POST /api/desk/numbers': { body: { orders: readonly number[] }; answer: Done<typeof numbersOf> }
  'POST /api/desk/ways': { body: { orders: readonly number[] }; answer: Done<typeof showWays> }
  'PUT /api/desk/ways': { body: Parameters<typeof takeWay>[1]; answer: Done<typeof takeWay> }
  'GET /api/desk/letters': { answer: Shown<typeof showLetterTexts> }
  'POST /api/desk/letters': { body: ToWrite & { readonly key: string }; answer: Done<typeof writeToBuyers> }
  'POST /api/desk/letters/preview': { body: ToWrite; answer: Done<typeof previewLetters> }
  'PUT /api/desk/letters/texts': { body: Parameters<typeof saveLetterText>[1]; answer: Done<typeof saveLetterText> }
  'DELETE /api/desk/letters/texts': { body: { id: number }; answer: Done<typeof forgetLetterText> }
  'GET /api/desk/views': { answer: Shown<typeof showViews> }
  'PUT /api/desk/views': { body: Parameters<typeof saveView>[1]; answer: Done<typeof saveView> }
  'DELETE /api/desk/views': { body: { id: number }; answer: Done<typeof removeView> }
  'GET /api/desk/edits': { answer: Shown<typeof showEdits> }
  'POST /api/desk/edits': { body: ManyEdit & { readonly key: string }; answer: Done<typeof editMany> }
  'DELETE /api/desk/edits': { body: { edit: number }; answer: Done<typeof undoEdit> }
  'POST /api/desk/edits/preview': { body: ManyEdit; answer: Done<typeof previewEdit> }
  'GET /api/desk/orders/:id': { answer: Shown<typeof showOrder> }
  'GET /api/desk/orders/:id/address': { answer: Shown<typeof showAddress> }
  'PUT /api/desk/orders/:id/address': {
    body: { address: Parameters<typeof correctAddress>[2] }
    answer: Done<typeof correctAddress>
  }
  'POST /api/desk/orders/:id/apart': { body: Nothing; answer: Done<typeof takeApart> }
  'GET /api/desk/orders/:id/deciding': { answer: Shown<typeof showDeciding> }
  'POST /api/desk/orders/:id/example': { body: { name: string }; answer: Done<typeof pinExample> }
  'POST /api/desk/orders/:id/notices': {
    body: { medium: 'mail' | 'text' }
    answer: Done<typeof sendNoticeAgain>
  }
  'PUT /api/desk/orders/:id/notices': { body: { address: string }; answer: Done<typeof writeToThemAgain> }
  'PUT /api/desk/words': { body: { id: number; answer: string }; answer: Done<typeof closeCustomerWords> }
  'POST /api/desk/orders/:id/numbers': { body: OwnNumbers; answer: Done<typeof recordOwnNumbers> }
  'GET /api/desk/orders/:id/packing': { answer: Shown<typeof showPacking> }
  'POST /api/desk/orders/:id/pins': { body: { decision: string; value: unknown }; answer: Done<typeof pinDecision> }
  'DELETE /api/desk/orders/:id/pins': { body: { decision: string }; answer: Done<typeof releasePin> }

  'POST /api/dispatch/plan': {
    body: { orders: readonly number[] }
    answer: { ok: true } & Awaited<ReturnType<typeof planBatch>>
  }
  'GET /api/dispatch/bench': { query: TextQuery; answer: Shown<typeof showBench> }
  'POST /api/dispatch/bench': { body: Parameters<typeof openParcel>[1]; answer: Done<typeof openParcel> }
  'POST /api/dispatch/bench/scans': { body: Parameters<typeof scanItems>[1]; answer: Done<typeof scanItems> }
  'DELETE /api/dispatch/bench/scans': { body: { check: number }; answer: Done<typeof undoLast> }
  'PUT /api/dispatch/bench/buying': { body: { code: string }; answer: Done<typeof offerAtBench> }
  'POST /api/dispatch/bench/buying': { body: Parameters<typeof buyAtBench>[1]; answer: Done<typeof buyAtBench> }
  'PUT /api/dispatch/bench/settings': { body: Parameters<typeof saveBench>[1]; answer: Done<typeof saveBench> }
  'POST /api/dispatch/bench/prints': { body: Parameters<typeof printAtBench>[1]; answer: Done<typeof printAtBench> }
  'POST /api/dispatch/bench/weight': { body: { bench: string }; answer: Done<typeof readScale> }
  'PUT /api/dispatch/bench/weight': { body: Parameters<typeof weighParcel>[1]; answer: Done<typeof weighParcel> }
  'PUT /api/dispatch/bench/aside': { body: Parameters<typeof putParcelAside>[1]; answer: Done<typeof putParcelAside> }
  'GET /api/dispatch/day': { answer: Shown<typeof showDay> }
  'PUT /api/dispatch/waves': { body: Parameters<typeof saveWaves>[1]; answer: Done<typeof saveWaves> }
  'GET /api/dispatch/batches': { query: { skip?: string }; answer: Shown<typeof showBatches> }
  'POST /api/dispatch/batches': {
    body: {
      orders: readonly number[]
      expected: number
      approval?: string
      wave?: { name: string; leavesBy: string | null } | null
    }
    answer: Done<typeof buyBatch>
  }
  'GET /api/dispatch/batches/:id': { answer: Shown<typeof showBatch> }
  'POST /api/dispatch/batches/:id': { body: { dispatched: true }; answer: Done<typeof dispatchBatch> }
  'POST /api/dispatch/batches/:id/print': Printing
  'POST /api/dispatch/batches/:id/picks': Printing
  'POST /api/dispatch/labels/:id/print': Printing
  'POST /api/dispatch/labels/:id/void': { body: Nothing; answer: Done<typeof requestVoid> }
  'POST /api/dispatch/labels/void': { body: { labels: readonly number[] }; answer: Done<typeof voidMany> }
  'GET /api/dispatch/manifests': { query: { skip?: string }; answer: Shown<typeof showManifests> }
  'POST /api/dispatch/manifests': { body: { again: number }; answer: Done<typeof sendManifestAgain> }
  'PUT /api/dispatch/manifests': {
    body: Parameters<typeof settleLeftBehind>[1]
    answer: Done<typeof settleLeftBehind>
  }
  'POST /api/dispatch/manifests/:id/print': Printing
  'POST /api/dispatch/manifests/:id/containers': Printing
  'GET /api/dispatch/door': { query: { carrier: string; location: string }; answer: Shown<typeof showDoor> }
  'POST /api/dispatch/door': { body: Closing; answer: Done<typeof closeDoor> }
  'POST /api/dispatch/door/scans': { body: DoorScan; answer: Done<typeof scanAtDoor> }
  'DELETE /api/dispatch/door/scans': { body: Parameters<typeof takeOff>[1]; answer: Done<typeof takeOff> }
  'POST /api/dispatch/door/containers': {
    body: Parameters<typeof newContainer>[1]
    answer: Done<typeof newContainer>
  }
  'GET /api/tracking/returns': { query: { list?: ReturnList; skip?: string }; answer: Shown<typeof showReturns> }
  'POST /api/tracking/returns': { body: Parameters<typeof askReturnFor>[1]; answer: Done<typeof askReturnFor> }
  'PUT /api/tracking/returns': { body: Parameters<typeof answerReturn>[1]; answer: Done<typeof answerReturn> }
  'PUT /api/tracking/returns/paid': { body: { id: number }; answer: Done<typeof paidByHand> }
  'POST /api/tracking/returns/arrivals': { body: { code: string }; answer: Done<typeof findReturn> }
  'PUT /api/tracking/returns/arrivals': { body: CheckedReturn; answer: Done<typeof checkReturn> }
  'GET /api/dispatch/stock': {
    query: { location?: string; search?: string; only?: 'short' | 'none'; skip?: string }
    answer: Shown<typeof showStock>
  }
  'PUT /api/dispatch/stock': { body: Parameters<typeof countByHand>[1]; answer: Done<typeof countByHand> }
  'GET /api/dispatch/stock/moves': { query: { location: string; sku: string }; answer: Shown<typeof showMoves> }
  'PUT /api/dispatch/stock/channels': {
    body: Parameters<typeof setChannelStock>[1]
    answer: Done<typeof setChannelStock>
  }
  'POST /api/dispatch/stock/file': { file: true; answer: Done<typeof previewStock> }
  'PUT /api/dispatch/stock/file': { file: true; answer: Done<typeof takeStockFile> }
  'GET /api/dispatch/counter': { query: { location: string }; answer: Shown<typeof showCounter> }
  'POST /api/dispatch/counter': { body: Parameters<typeof findAtCounter>[1]; answer: Done<typeof findAtCounter> }
  'PUT /api/dispatch/counter': { body: Parameters<typeof handOut>[1]; answer: Done<typeof handOut> }
  'PUT /api/dispatch/counter/shelf': { body: Parameters<typeof shelveOrder>[1]; answer: Done<typeof shelveOrder> }
  'PUT /api/dispatch/counter/late': { body: Parameters<typeof settleLate>[1]; answer: Done<typeof settleLate> }
  'GET /api/dispatch/collections': { query: { from?: string }; answer: Shown<typeof showCollections> }
  'POST /api/dispatch/collections': {
    body: Parameters<typeof bookCollection>[1]
    answer: Done<typeof bookCollection>
  }
  'PUT /api/dispatch/collections': {
    body: Parameters<typeof replanCollection>[1]
    answer: Done<typeof replanCollection>
  }
  'DELETE /api/dispatch/collections': { body: { id: number }; answer: Done<typeof cancelCollection> }
  'POST /api/dispatch/collections/terms': { body: CollectionFor; answer: Done<typeof showTerms> }
  'PUT /api/dispatch/collections/agreements': {
    body: { version: number; agreements: readonly unknown[] }
    answer: Done<typeof saveAgreements>
  }
  'GET /api/dispatch/slips': { answer: Shown<typeof showSlips> }
  'PUT /api/dispatch/slips': { body: Version & { slip: unknown }; answer: Done<typeof saveSlip> }
  'DELETE /api/dispatch/slips': { body: Version & { id: string }; answer: Done<typeof removeSlip> }
  'POST /api/dispatch/slips/preview': { body: { slip: unknown; number: string }; answer: Done<typeof previewSlip> }

  'GET /api/tracking': { query: { state?: string }; answer: Shown<typeof showTracking> }
  'GET /api/tracking/board': { query: TextQuery; answer: Shown<typeof showBoard> }
  'GET /api/tracking/board/spread': { query: TextQuery; answer: Shown<typeof spreadBoard> }
  'GET /api/tracking/board/days': { answer: Shown<typeof showBoardDays> }
  'POST /api/tracking/numbers': {
    body: { lines: readonly NumberLine[]; take: boolean }
    answer: Done<typeof takeNumbers>
  }
  'GET /api/tracking/notices': { answer: Shown<typeof showNotices> }
  'PUT /api/tracking/notices': { body: Version & { plan: unknown }; answer: Done<typeof saveNotices> }
  'POST /api/tracking/notices/preview': {
    body: Parameters<typeof previewNotice>[1]
    answer: Done<typeof previewNotice>
  }
  'GET /api/tracking/page': { answer: Shown<typeof showFaces> }
  'PUT /api/tracking/page': {
    body: Version & { draft: unknown; publish: boolean }
    answer: Done<typeof saveFaces>
  }
  'POST /api/tracking/page/preview': {
    body: { draft: unknown; channel: string; language: string; parcels: number }
    /** Empty while the draft is not whole: `problem` says why. */
    answer: { readonly ok: true; readonly html: string; readonly problem: string }
  }
  'PUT /api/tracking/page/logo': { file: true; answer: Done<typeof takeLogo> }
  'GET /api/tracking/arrivals/lanes': { answer: Shown<typeof showLanes> }
  'GET /api/tracking/arrivals': { answer: Shown<typeof showArrivals> }
  'POST /api/tracking': { body: { retry: Message; id: number | 'all' }; answer: Done<typeof retryAll> }

  'GET /api/ledger': { query: { from?: string; until?: string }; answer: Shown<typeof showLedger> }
  'GET /api/ledger/balance': { query: { bookings: string; invoices: string }; answer: Shown<typeof showMoney> }
  'PUT /api/ledger/balance': {
    body:
      | { ceiling: number | null }
      | { carrier: string; mark: number | null; by: number | null }
      | { carrier: string; credit: number | null }
    answer: Done<typeof setMark>
  }
  'POST /api/ledger/balance/top-up': {
    body: { carrier: string; amount: number; key: string }
    answer: Done<typeof topUp>
  }
  'POST /api/ledger/balance/invoices': { file: true; query: { carrier: string }; answer: Done<typeof lookAtInvoice> }
  'PUT /api/ledger/balance/invoices': {
    file: true
    query: { carrier: string; number: string }
    answer: Done<typeof takeInvoice>
  }
  'DELETE /api/ledger/balance/invoices': { body: { invoice: number }; answer: Done<typeof takeInvoiceBack> }
  'GET /api/ledger/report': {
    query: { by: ReportAsked['by']; from?: string; until?: string }
    answer: Shown<typeof showReport>
  }
  'GET /api/ledger/report/rules': { answer: Shown<typeof showRuleCosts> }
  'PUT /api/ledger/report': { body: Parameters<typeof saveAccounts>[1]; answer: Done<typeof saveAccounts> }
  'POST /api/ledger/report/print': {
    body: { month: string }
    answer: { readonly ok: true; readonly file: string; readonly pages: number }
  }
  'GET /api/ledger/refunds': {
    query: { settled?: string; carrier?: string; days?: string }
    answer: Shown<typeof showRefunds>
  }
  'POST /api/ledger/refunds': { body: { labels: readonly number[] }; answer: Done<typeof markAsked> }
  'PUT /api/ledger/refunds': { body: Parameters<typeof settleRefund>[1]; answer: Done<typeof settleRefund> }
  'GET /api/ledger/claims': { query: { settled?: string; carrier?: string }; answer: Shown<typeof showClaims> }
  'POST /api/ledger/claims': { body: { ids: readonly number[] }; answer: Done<typeof markClaimed> }
  'PUT /api/ledger/claims': {
    body: { id: number; granted: number; note: string }
    answer: Done<typeof settleClaim>
  }
  'GET /api/ledger/tariffs': { answer: Shown<typeof showTariffs> }
  'GET /api/ledger/tariffs/prices': {
    query: { service: string; from: string }
    answer: Shown<typeof showTariffPrices>
  }
  'DELETE /api/ledger/tariffs': { body: Version & { service: string; from: string }; answer: Done<typeof removeTariff> }
  'POST /api/ledger/tariffs/file': { file: true; answer: Done<typeof previewTariffs> }
  'PUT /api/ledger/tariffs/file': { file: true; query: Version; answer: Done<typeof takeTariffs> }
  'POST /api/ledger/tariffs/quotes': { body: Exploration; answer: Done<typeof exploreRates> }

  'POST /api/people/sign-in': { body: { email: string; password: string }; answer: Step }
  'POST /api/people/second': { body: { code: string }; answer: Step }
  'POST /api/people/sign-out': { body: Nothing; answer: { readonly ok: true } }
  'POST /api/people/welcome': {
    body: { secret: string; name: string; email: string; password: string }
    answer: Step
  }
  'POST /api/people/passkey': { body: Nothing; answer: Done<typeof askForPasskey> }
  'PUT /api/people/passkey': { body: Parameters<typeof signInByPasskey>[1]; answer: Step }
  'GET /api/people/me': { answer: Shown<typeof showAccount> }
  'PUT /api/people/me/password': { body: { before: string; password: string }; answer: Done<typeof changePassword> }
  'POST /api/people/me/second': { body: Nothing; answer: Done<typeof proposeSecond> }
  'PUT /api/people/me/second': { body: { code: string }; answer: Done<typeof confirmSecond> }
  'DELETE /api/people/me/second': { body: { code: string }; answer: Done<typeof removeSecond> }
  'DELETE /api/people/me/sign-ins': { body: { which: number | 'others' }; answer: Done<typeof endElsewhere> }
  'POST /api/people/me/passkeys': { body: Nothing; answer: Done<typeof beginPasskey> }
  'PUT /api/people/me/passkeys': { body: Parameters<typeof keepPasskey>[2]; answer: Done<typeof keepPasskey> }
  'DELETE /api/people/me/passkeys': { body: { id: number }; answer: Done<typeof forgetPasskey> }
  'POST /api/people/badge': { body: { badge: string; code: string }; answer: Step }
  'POST /api/people/badges': { body: { id: number }; answer: Done<typeof makeBadge> }
  'DELETE /api/people/badges': { body: { id: number }; answer: Done<typeof endBadge> }
  'GET /api/people': { answer: Shown<typeof showPeople> }
  'POST /api/people': { body: PersonGiven; answer: Done<typeof invite> }
  'PUT /api/people': { body: PersonChange; answer: Done<typeof changePersonBy> }
  'POST /api/people/links': { body: { id: number }; answer: Done<typeof newLink> }
  'DELETE /api/people/sign-ins': { body: { id: number }; answer: Done<typeof endAllOf> }
  'GET /api/people/proposals': { answer: Awaited<ReturnType<typeof showProposals>> }
  'POST /api/people/proposals': {
    body: { id: number; agree: boolean }
    answer: { readonly ok: true; readonly outcome: string }
  }
  'PUT /api/people/proposals': { body: Version & { kinds: readonly string[] }; answer: Done<typeof chooseWatched> }
  'GET /api/people/audit': {
    query: { search?: string; actor?: string; before?: number }
    answer: Shown<typeof showAudit>
  }
}

export type Endpoint = keyof Endpoints

/** The names in a path: `id` of `/api/desk/orders/:id`. */
type NamesIn<Path extends string> = Path extends `${string}:${infer Name}/${infer Rest}`
  ? Name | NamesIn<Rest>
  : Path extends `${string}:${infer Name}`
    ? Name
    : never

/** The parts of an endpoint's path that are filled in. */
export type PathOf<E extends Endpoint> = Readonly<Record<NamesIn<E>, string>>

export type BodyOf<E extends Endpoint> = Endpoints[E] extends { body: infer Body } ? Body : undefined
export type QueryOf<E extends Endpoint> = Endpoints[E] extends { query: infer Query } ? Query : undefined
export type AnswerOf<E extends Endpoint> = Endpoints[E]['answer']

/** Endpoints that take a file as their bare body. */
export type FileEndpoint = { [E in Endpoint]: Endpoints[E] extends { file: true } ? E : never }[Endpoint]
