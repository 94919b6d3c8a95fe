import type { z } from 'zod'

/** Settings as the environment says; what is empty is not set. A wrong variable is named. */
export function readEnvironment<S extends z.ZodType>(
  settings: S,
  env: Readonly<Record<string, string | undefined>>,
): z.output<S> {
  const parsed = settings.safeParse(Object.fromEntries(Object.entries(env).filter(([, value]) => value !== '')))
  if (parsed.success) return parsed.data
  const issue = parsed.error.issues[0]!
  throw new Error(`The environment variable ${issue.path.join('.')} is wrong: ${issue.message}`)
}
