import type { Calls } from './calls'
import * as desk from './desk/calls'
import * as deskAddress from './desk/address/calls'
import * as deskEdits from './desk/edits/calls'
import * as deskEditsPreview from './desk/edits/preview/calls'
import * as deskFile from './desk/file/calls'
import * as deskIds from './desk/ids/calls'
import * as deskLetters from './desk/letters/calls'
import * as deskLettersPreview from './desk/letters/preview/calls'
import * as deskLettersTexts from './desk/letters/texts/calls'
import * as deskNumbers from './desk/numbers/calls'
import * as deskOrdersById from './desk/orders/[id]/calls'
import * as deskOrdersByIdAddress from './desk/orders/[id]/address/calls'
import * as deskOrdersByIdApart from './desk/orders/[id]/apart/calls'
import * as deskOrdersByIdDeciding from './desk/orders/[id]/deciding/calls'
import * as deskOrdersByIdExample from './desk/orders/[id]/example/calls'
import * as deskOrdersByIdNotices from './desk/orders/[id]/notices/calls'
import * as deskOrdersByIdNumbers from './desk/orders/[id]/numbers/calls'
import * as deskOrdersByIdPacking from './desk/orders/[id]/packing/calls'
import * as deskOrdersByIdPins from './desk/orders/[id]/pins/calls'
import * as deskOrdersByIdRecipient from './desk/orders/[id]/recipient/calls'
import * as deskOrdersCombine from './desk/orders/combine/calls'
import * as deskPlace from './desk/place/calls'
import * as deskSpread from './desk/spread/calls'
import * as deskTyped from './desk/typed/calls'
import * as deskTypedItems from './desk/typed/items/calls'
import * as deskTypedQuote from './desk/typed/quote/calls'
import * as deskViews from './desk/views/calls'
import * as deskWays from './desk/ways/calls'
import * as deskWords from './desk/words/calls'
import * as dispatchBatches from './dispatch/batches/calls'
import * as dispatchBatchesById from './dispatch/batches/[id]/calls'
import * as dispatchBatchesByIdPicks from './dispatch/batches/[id]/picks/calls'
import * as dispatchBatchesByIdPrint from './dispatch/batches/[id]/print/calls'
import * as dispatchBench from './dispatch/bench/calls'
import * as dispatchBenchAside from './dispatch/bench/aside/calls'
import * as dispatchBenchBuying from './dispatch/bench/buying/calls'
import * as dispatchBenchPrints from './dispatch/bench/prints/calls'
import * as dispatchBenchScans from './dispatch/bench/scans/calls'
import * as dispatchBenchSettings from './dispatch/bench/settings/calls'
import * as dispatchBenchWeight from './dispatch/bench/weight/calls'
import * as dispatchCollections from './dispatch/collections/calls'
import * as dispatchCollectionsAgreements from './dispatch/collections/agreements/calls'
import * as dispatchCollectionsTerms from './dispatch/collections/terms/calls'
import * as dispatchCounter from './dispatch/counter/calls'
import * as dispatchCounterLate from './dispatch/counter/late/calls'
import * as dispatchCounterShelf from './dispatch/counter/shelf/calls'
import * as dispatchDay from './dispatch/day/calls'
import * as dispatchDoor from './dispatch/door/calls'
import * as dispatchDoorContainers from './dispatch/door/containers/calls'
import * as dispatchDoorScans from './dispatch/door/scans/calls'
import * as dispatchLabelsByIdPrint from './dispatch/labels/[id]/print/calls'
import * as dispatchLabelsByIdVoid from './dispatch/labels/[id]/void/calls'
import * as dispatchLabelsVoid from './dispatch/labels/void/calls'
import * as dispatchManifests from './dispatch/manifests/calls'
import * as dispatchManifestsByIdContainers from './dispatch/manifests/[id]/containers/calls'
import * as dispatchManifestsByIdPrint from './dispatch/manifests/[id]/print/calls'
import * as dispatchPlan from './dispatch/plan/calls'
import * as dispatchPrintsByName from './dispatch/prints/[name]/calls'
import * as dispatchSlips from './dispatch/slips/calls'
import * as dispatchSlipsPreview from './dispatch/slips/preview/calls'
import * as dispatchStock from './dispatch/stock/calls'
import * as dispatchStockChannels from './dispatch/stock/channels/calls'
import * as dispatchStockFile from './dispatch/stock/file/calls'
import * as dispatchStockMoves from './dispatch/stock/moves/calls'
import * as dispatchWaves from './dispatch/waves/calls'
import * as find from './find/calls'
import * as health from './health/calls'
import * as hooksById from './hooks/[id]/calls'
import * as intake from './intake/calls'
import * as intakeChannelsById from './intake/channels/[id]/calls'
import * as intakeChannelsByIdImport from './intake/channels/[id]/import/calls'
import * as intakeConnections from './intake/connections/calls'
import * as intakeConnectionsById from './intake/connections/[id]/calls'
import * as intakeConnectionsByIdAuthorise from './intake/connections/[id]/authorise/calls'
import * as intakeConnectionsCallback from './intake/connections/callback/calls'
import * as intakeConnectionsTest from './intake/connections/test/calls'
import * as intakeFiles from './intake/files/calls'
import * as intakeFilesLeft from './intake/files/left/calls'
import * as intakeFilesPattern from './intake/files/pattern/calls'
import * as intakeImports from './intake/imports/calls'
import * as intakeImportsById from './intake/imports/[id]/calls'
import * as intakeImportsAll from './intake/imports/all/calls'
import * as intakeItems from './intake/items/calls'
import * as intakeItemsFile from './intake/items/file/calls'
import * as intakeItemsPictures from './intake/items/pictures/calls'
import * as intakeItemsLearned from './intake/items/learned/calls'
import * as intakeWordings from './intake/wordings/calls'
import * as ledger from './ledger/calls'
import * as ledgerBalance from './ledger/balance/calls'
import * as ledgerBalanceInvoices from './ledger/balance/invoices/calls'
import * as ledgerBalanceTopUp from './ledger/balance/top-up/calls'
import * as ledgerClaims from './ledger/claims/calls'
import * as ledgerClaimsFile from './ledger/claims/file/calls'
import * as ledgerRefunds from './ledger/refunds/calls'
import * as ledgerRefundsFile from './ledger/refunds/file/calls'
import * as ledgerReport from './ledger/report/calls'
import * as ledgerReportFile from './ledger/report/file/calls'
import * as ledgerReportJournalFile from './ledger/report/journal/file/calls'
import * as ledgerReportPrint from './ledger/report/print/calls'
import * as ledgerReportRules from './ledger/report/rules/calls'
import * as ledgerTariffs from './ledger/tariffs/calls'
import * as ledgerTariffsFile from './ledger/tariffs/file/calls'
import * as ledgerTariffsPrices from './ledger/tariffs/prices/calls'
import * as ledgerTariffsQuotes from './ledger/tariffs/quotes/calls'
import * as line from './line/calls'
import * as people from './people/calls'
import * as peopleAudit from './people/audit/calls'
import * as peopleAuditFile from './people/audit/file/calls'
import * as peopleBadge from './people/badge/calls'
import * as peopleBadges from './people/badges/calls'
import * as peopleLinks from './people/links/calls'
import * as peopleMe from './people/me/calls'
import * as peopleMePasskeys from './people/me/passkeys/calls'
import * as peopleMePassword from './people/me/password/calls'
import * as peopleMeSecond from './people/me/second/calls'
import * as peopleMeSignIns from './people/me/sign-ins/calls'
import * as peoplePasskey from './people/passkey/calls'
import * as peopleProposals from './people/proposals/calls'
import * as peopleProvider from './people/provider/calls'
import * as peopleProviderCallback from './people/provider/callback/calls'
import * as peopleSecond from './people/second/calls'
import * as peopleSignIn from './people/sign-in/calls'
import * as peopleSignIns from './people/sign-ins/calls'
import * as peopleSignOut from './people/sign-out/calls'
import * as peopleWelcome from './people/welcome/calls'
import * as rulesPinnedById from './rules/pinned/[id]/calls'
import * as rulesRerouting from './rules/rerouting/calls'
import * as rulesEditions from './rules/editions/calls'
import * as rulesRulebook from './rules/rulebook/calls'
import * as rulesRulebookPublish from './rules/rulebook/publish/calls'
import * as rulesRulebookRestore from './rules/rulebook/restore/calls'
import * as rulesSuggestions from './rules/suggestions/calls'
import * as rulesTrial from './rules/trial/calls'
import * as rulesTrialColumns from './rules/trial/columns/calls'
import * as rulesTrials from './rules/trials/calls'
import * as rulesTrialsById from './rules/trials/[id]/calls'
import * as rulesTrialsByIdChanges from './rules/trials/[id]/changes/calls'
import * as rulesTrialsByIdFile from './rules/trials/[id]/file/calls'
import * as rulesTrialsCompare from './rules/trials/compare/calls'
import * as rulesTrialsNewest from './rules/trials/newest/calls'
import * as setup from './setup/calls'
import * as setupCalendar from './setup/calendar/calls'
import * as setupCarriersById from './setup/carriers/[id]/calls'
import * as setupDemands from './setup/demands/calls'
import * as setupPrivacy from './setup/privacy/calls'
import * as setupPrivacyBuyer from './setup/privacy/buyer/calls'
import * as setupPrivacyCopy from './setup/privacy/copy/calls'
import * as setupPrivacyForget from './setup/privacy/forget/calls'
import * as setupHealth from './setup/health/calls'
import * as setupHealthClock from './setup/health/clock/calls'
import * as setupHealthRestored from './setup/health/restored/calls'
import * as setupLists from './setup/lists/calls'
import * as setupListsEffect from './setup/lists/effect/calls'
import * as setupOutside from './setup/outside/calls'
import * as setupPictures from './setup/pictures/calls'
import * as setupSeller from './setup/seller/calls'
import * as setupTokens from './setup/tokens/calls'
import * as setupUses from './setup/uses/calls'
import * as setupWebhooks from './setup/webhooks/calls'
import * as setupZones from './setup/zones/calls'
import * as tracking from './tracking/calls'
import * as trackingArrivals from './tracking/arrivals/calls'
import * as trackingArrivalsLanes from './tracking/arrivals/lanes/calls'
import * as trackingBoard from './tracking/board/calls'
import * as trackingBoardDays from './tracking/board/days/calls'
import * as trackingBoardSpread from './tracking/board/spread/calls'
import * as trackingNotices from './tracking/notices/calls'
import * as trackingNoticesPreview from './tracking/notices/preview/calls'
import * as trackingNumbers from './tracking/numbers/calls'
import * as trackingPage from './tracking/page/calls'
import * as trackingPageLogo from './tracking/page/logo/calls'
import * as trackingPagePreview from './tracking/page/preview/calls'
import * as trackingReturns from './tracking/returns/calls'
import * as trackingReturnsArrivals from './tracking/returns/arrivals/calls'
import * as trackingReturnsPaid from './tracking/returns/paid/calls'
import * as trackingReturnsPhotosById from './tracking/returns/photos/[id]/calls'

/** What is answered at which address: one line for each folder that has calls. `[id]` is any text. */
export const calls: Readonly<Record<string, Calls>> = {
  desk: desk,
  'desk/address': deskAddress,
  'desk/edits': deskEdits,
  'desk/edits/preview': deskEditsPreview,
  'desk/file': deskFile,
  'desk/ids': deskIds,
  'desk/letters': deskLetters,
  'desk/letters/preview': deskLettersPreview,
  'desk/letters/texts': deskLettersTexts,
  'desk/numbers': deskNumbers,
  'desk/orders/[id]': deskOrdersById,
  'desk/orders/[id]/address': deskOrdersByIdAddress,
  'desk/orders/[id]/apart': deskOrdersByIdApart,
  'desk/orders/[id]/deciding': deskOrdersByIdDeciding,
  'desk/orders/[id]/example': deskOrdersByIdExample,
  'desk/orders/[id]/notices': deskOrdersByIdNotices,
  'desk/orders/[id]/numbers': deskOrdersByIdNumbers,
  'desk/orders/[id]/packing': deskOrdersByIdPacking,
  'desk/orders/[id]/pins': deskOrdersByIdPins,
  'desk/orders/[id]/recipient': deskOrdersByIdRecipient,
  'desk/orders/combine': deskOrdersCombine,
  'desk/place': deskPlace,
  'desk/spread': deskSpread,
  'desk/typed': deskTyped,
  'desk/typed/items': deskTypedItems,
  'desk/typed/quote': deskTypedQuote,
  'desk/views': deskViews,
  'desk/ways': deskWays,
  'desk/words': deskWords,
  'dispatch/batches': dispatchBatches,
  'dispatch/batches/[id]': dispatchBatchesById,
  'dispatch/batches/[id]/picks': dispatchBatchesByIdPicks,
  'dispatch/batches/[id]/print': dispatchBatchesByIdPrint,
  'dispatch/bench': dispatchBench,
  'dispatch/bench/aside': dispatchBenchAside,
  'dispatch/bench/buying': dispatchBenchBuying,
  'dispatch/bench/prints': dispatchBenchPrints,
  'dispatch/bench/scans': dispatchBenchScans,
  'dispatch/bench/settings': dispatchBenchSettings,
  'dispatch/bench/weight': dispatchBenchWeight,
  'dispatch/collections': dispatchCollections,
  'dispatch/collections/agreements': dispatchCollectionsAgreements,
  'dispatch/collections/terms': dispatchCollectionsTerms,
  'dispatch/counter': dispatchCounter,
  'dispatch/counter/late': dispatchCounterLate,
  'dispatch/counter/shelf': dispatchCounterShelf,
  'dispatch/day': dispatchDay,
  'dispatch/door': dispatchDoor,
  'dispatch/door/containers': dispatchDoorContainers,
  'dispatch/door/scans': dispatchDoorScans,
  'dispatch/labels/[id]/print': dispatchLabelsByIdPrint,
  'dispatch/labels/[id]/void': dispatchLabelsByIdVoid,
  'dispatch/labels/void': dispatchLabelsVoid,
  'dispatch/manifests': dispatchManifests,
  'dispatch/manifests/[id]/containers': dispatchManifestsByIdContainers,
  'dispatch/manifests/[id]/print': dispatchManifestsByIdPrint,
  'dispatch/plan': dispatchPlan,
  'dispatch/prints/[name]': dispatchPrintsByName,
  'dispatch/slips': dispatchSlips,
  'dispatch/slips/preview': dispatchSlipsPreview,
  'dispatch/stock': dispatchStock,
  'dispatch/stock/channels': dispatchStockChannels,
  'dispatch/stock/file': dispatchStockFile,
  'dispatch/stock/moves': dispatchStockMoves,
  'dispatch/waves': dispatchWaves,
  find: find,
  health: health,
  'hooks/[id]': hooksById,
  intake: intake,
  'intake/channels/[id]': intakeChannelsById,
  'intake/channels/[id]/import': intakeChannelsByIdImport,
  'intake/connections': intakeConnections,
  'intake/connections/[id]': intakeConnectionsById,
  'intake/connections/[id]/authorise': intakeConnectionsByIdAuthorise,
  'intake/connections/callback': intakeConnectionsCallback,
  'intake/connections/test': intakeConnectionsTest,
  'intake/files': intakeFiles,
  'intake/files/left': intakeFilesLeft,
  'intake/files/pattern': intakeFilesPattern,
  'intake/imports': intakeImports,
  'intake/imports/[id]': intakeImportsById,
  'intake/imports/all': intakeImportsAll,
  'intake/items': intakeItems,
  'intake/items/file': intakeItemsFile,
  'intake/items/pictures': intakeItemsPictures,
  'intake/items/learned': intakeItemsLearned,
  'intake/wordings': intakeWordings,
  ledger: ledger,
  'ledger/balance': ledgerBalance,
  'ledger/balance/invoices': ledgerBalanceInvoices,
  'ledger/balance/top-up': ledgerBalanceTopUp,
  'ledger/claims': ledgerClaims,
  'ledger/claims/file': ledgerClaimsFile,
  'ledger/refunds': ledgerRefunds,
  'ledger/refunds/file': ledgerRefundsFile,
  'ledger/report': ledgerReport,
  'ledger/report/file': ledgerReportFile,
  'ledger/report/journal/file': ledgerReportJournalFile,
  'ledger/report/print': ledgerReportPrint,
  'ledger/report/rules': ledgerReportRules,
  'ledger/tariffs': ledgerTariffs,
  'ledger/tariffs/file': ledgerTariffsFile,
  'ledger/tariffs/prices': ledgerTariffsPrices,
  'ledger/tariffs/quotes': ledgerTariffsQuotes,
  line: line,
  people: people,
  'people/audit': peopleAudit,
  'people/audit/file': peopleAuditFile,
  'people/badge': peopleBadge,
  'people/badges': peopleBadges,
  'people/links': peopleLinks,
  'people/me': peopleMe,
  'people/me/passkeys': peopleMePasskeys,
  'people/me/password': peopleMePassword,
  'people/me/second': peopleMeSecond,
  'people/me/sign-ins': peopleMeSignIns,
  'people/passkey': peoplePasskey,
  'people/proposals': peopleProposals,
  'people/provider': peopleProvider,
  'people/provider/callback': peopleProviderCallback,
  'people/second': peopleSecond,
  'people/sign-in': peopleSignIn,
  'people/sign-ins': peopleSignIns,
  'people/sign-out': peopleSignOut,
  'people/welcome': peopleWelcome,
  'rules/pinned/[id]': rulesPinnedById,
  'rules/rerouting': rulesRerouting,
  'rules/editions': rulesEditions,
  'rules/rulebook': rulesRulebook,
  'rules/rulebook/publish': rulesRulebookPublish,
  'rules/rulebook/restore': rulesRulebookRestore,
  'rules/suggestions': rulesSuggestions,
  'rules/trial': rulesTrial,
  'rules/trial/columns': rulesTrialColumns,
  'rules/trials': rulesTrials,
  'rules/trials/[id]': rulesTrialsById,
  'rules/trials/[id]/changes': rulesTrialsByIdChanges,
  'rules/trials/[id]/file': rulesTrialsByIdFile,
  'rules/trials/compare': rulesTrialsCompare,
  'rules/trials/newest': rulesTrialsNewest,
  setup: setup,
  'setup/calendar': setupCalendar,
  'setup/carriers/[id]': setupCarriersById,
  'setup/demands': setupDemands,
  'setup/health': setupHealth,
  'setup/privacy': setupPrivacy,
  'setup/privacy/buyer': setupPrivacyBuyer,
  'setup/privacy/copy': setupPrivacyCopy,
  'setup/privacy/forget': setupPrivacyForget,
  'setup/health/clock': setupHealthClock,
  'setup/health/restored': setupHealthRestored,
  'setup/lists': setupLists,
  'setup/lists/effect': setupListsEffect,
  'setup/outside': setupOutside,
  'setup/pictures': setupPictures,
  'setup/seller': setupSeller,
  'setup/tokens': setupTokens,
  'setup/uses': setupUses,
  'setup/webhooks': setupWebhooks,
  'setup/zones': setupZones,
  tracking: tracking,
  'tracking/arrivals': trackingArrivals,
  'tracking/arrivals/lanes': trackingArrivalsLanes,
  'tracking/board': trackingBoard,
  'tracking/board/days': trackingBoardDays,
  'tracking/board/spread': trackingBoardSpread,
  'tracking/notices': trackingNotices,
  'tracking/notices/preview': trackingNoticesPreview,
  'tracking/numbers': trackingNumbers,
  'tracking/page': trackingPage,
  'tracking/page/logo': trackingPageLogo,
  'tracking/page/preview': trackingPagePreview,
  'tracking/returns': trackingReturns,
  'tracking/returns/arrivals': trackingReturnsArrivals,
  'tracking/returns/paid': trackingReturnsPaid,
  'tracking/returns/photos/[id]': trackingReturnsPhotosById,
}
