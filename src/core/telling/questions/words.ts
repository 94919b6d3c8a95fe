/** What a person may want to know of a buyer before an order can go. */
export type QuestionId = 'po box' | 'address' | 'telephone' | 'later' | 'out of stock'

/** All that letters with a question say in one language; placeholders as in notices. */
export interface QuestionWords {
  /** On the button, and before the link in plain text. */
  readonly answer: string
  /** That a mail back is an answer, too; said where one is taken in. */
  readonly byMail: string
  readonly questions: Readonly<Record<QuestionId, { readonly subject: string; readonly says: string }>>
}
