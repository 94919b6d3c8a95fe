import type { Condition, ReturnReason } from '@/core/returns'

/** Why something comes back, as people here read it. */
export const reasonWords: Readonly<Record<string, string>> = {
  ...{ 'changed mind': 'changed their mind', 'came too late': 'came too late', damaged: 'damaged' },
  ...{ 'wrong item': 'the wrong item', 'not as described': 'not as described' },
} satisfies Record<ReturnReason, string>

/** In which condition it came, with the key that says it. */
export const conditionWords: readonly (readonly [condition: Condition, words: string])[] = [
  ['as new', 'as new'],
  ['opened', 'opened'],
  ['damaged', 'damaged'],
  ['not there', 'not there'],
]
