/** Why a buyer sends something back, as rules and people name it. */
export const returnReasons = ['changed mind', 'came too late', 'damaged', 'wrong item', 'not as described'] as const
export type ReturnReason = (typeof returnReasons)[number]

/** In which condition something came back. */
export const conditions = ['as new', 'opened', 'damaged', 'not there'] as const
export type Condition = (typeof conditions)[number]

/** Whether something came at all. */
export const came = ({ condition }: { readonly condition: Condition }): boolean => condition !== 'not there'

/** Whether something in a condition is usually put back into the stock; a person may say otherwise. */
export const usuallyKept = (condition: Condition): boolean => condition === 'as new'
