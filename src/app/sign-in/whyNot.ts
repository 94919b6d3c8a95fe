/** Why somebody comes back from the outside provider without being let in. */
export const whyNot: Readonly<Record<string, string>> = {
  'not-allowed': 'You are known there, but none of your groups may use Gharry. Ask the owner.',
  'wrong-sign-in': 'You were not let in there. Try again, or sign in another way.',
  'signed-out': 'That took too long, or was begun in another browser. Try again.',
  'not-reached': 'The provider does not answer at the moment. Try again in a while, or sign in another way.',
}
