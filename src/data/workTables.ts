/**
 * Tables of work that must not be lost, with the states in which it is open: a row is taken under a lease, and is free
 * again when its holder dies.
 */
export const openStates = {
  imports: ['queued', 'running'],
  jobs: ['queued'],
  labels: ['queued', 'voiding'],
  posts: ['queued'],
  notices: ['waiting'],
  letters: ['waiting'],
  webhook_messages: ['queued'],
  handovers: ['queued'],
  print_jobs: ['queued'],
  manifests: ['queued'],
  collections: ['queued', 'changing', 'cancelling'],
  returns: ['making'],
} as const satisfies Readonly<Record<string, readonly string[]>>
export type WorkTable = keyof typeof openStates
