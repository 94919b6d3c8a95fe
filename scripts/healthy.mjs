/* Whether the server of this machine answers, and its books can be read: exit 0, else 1. */
const port = process.env.GHARRY_PORT ?? '4600'
const answer = await fetch(`http://127.0.0.1:${port}/api/health`, { signal: AbortSignal.timeout(4000) }).catch(
  () => null,
)
process.exit(answer?.ok ? 0 : 1)
