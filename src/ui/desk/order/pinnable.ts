import { decisionKinds } from '@/core/rulebook/language'

/** What a person may decide for a single order. */
export const pinnable = decisionKinds.filter(
  (kind) =>
    ![
      'barred',
      'allowed',
      'buyByItself',
      'tags',
      'dimensions',
      'inserts',
      'needs',
      'toldSteps',
      'documents',
      'combine',
    ].includes(kind.id),
)
