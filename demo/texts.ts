/** What the gateway for text messages has given out. */
export const textsCredentials = { token: 'demo-texts-token', sender: 'Mossgill' } as const
