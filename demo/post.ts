/** Tells a stand-in something by its back door; one that does not take it is a fault. */
export async function post(url: string, body: unknown): Promise<void> {
  const response = await fetch(url, {
    method: 'POST',
    headers: { 'content-type': 'application/json' },
    body: JSON.stringify(body),
  })
  if (!response.ok) throw new Error(`${url} answered ${response.status}`)
}
