/** What the server says when something cannot be done: shown as it is. */
export class Refusal extends Error {
  constructor(
    readonly code: string,
    sentence: string,
  ) {
    super(sentence)
  }
}

/** Calls one of Gharry's own routes; a refusal is thrown with its sentence. */
export const call = <T>(
  path: string,
  init?: { method: 'POST' | 'PUT' | 'PATCH' | 'DELETE'; body: unknown },
): Promise<T> =>
  ask<T>(
    path,
    init
      ? { method: init.method, headers: { 'content-type': 'application/json' }, body: JSON.stringify(init.body) }
      : undefined,
  )

/** Sends a file as the bare body. */
export const sendFile = <T>(path: string, file: Blob): Promise<T> => ask<T>(path, { method: 'POST', body: file })

async function ask<T>(path: string, init?: RequestInit): Promise<T> {
  let response: Response
  try {
    response = await fetch(path, init)
  } catch {
    throw new Refusal('unreachable', 'Gharry cannot be reached. What you did is not saved yet; try again.')
  }
  const body: unknown = await response.json().catch(() => null)
  if (!response.ok) {
    const { code, sentence } = (body ?? {}) as { code?: string; sentence?: string }
    throw new Refusal(code ?? 'error', sentence ?? `The server answered ${response.status}.`)
  }
  return body as T
}

export const sentenceOf = (error: unknown): string => (error instanceof Error ? error.message : 'Something went wrong.')
