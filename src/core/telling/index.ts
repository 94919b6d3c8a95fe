/** The face of telling customers: what other rooms may use. */
export { composeNotice, type Notice, type NoticeFacts, problemOf, sampleFacts, smsStopOf } from './compose'
export { type Language, languageNames, languageOf, languages, preferredLanguage } from './language'
export { isTold, type NoticePlan, noticePlanSchema, type OwnText, ownTextFor, type Telling, usualPlan } from './plan'
export { mobileNumber } from './phone'
export { afterQuiet } from './quiet'
export { smsWeight, type SmsWeight } from './smsParts'
export { isOvertaken, isUrgent, type Medium, mediums, type NoticeStep, noticeSteps, stepOfStatus } from './steps'
export {
  type Colours,
  contrast,
  type Face,
  type Faces,
  facesSchema,
  leastContrast,
  readable,
  type ReadableColours,
  type Shown,
  shownParts,
  usualFace,
  usualFaces,
} from './face'
export { noticePlaceholders, usualText } from './usualText'
export {
  answerWords,
  type BuyerLetter,
  composeLetter,
  type LetterFacts,
  letterPlaceholders,
  type LetterText,
  type QuestionId,
  questions,
  questionText,
} from './questions'
