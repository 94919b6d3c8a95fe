/** What a browser calls itself, in two words; what is not known is told as it is, in short. */
export function browserOf(agent: string): string {
  const browser = /(Edg|Firefox|Chrome|Safari)\//.exec(agent)?.[1]
  const system = /(Windows|Mac OS X|Android|iPhone|iPad|Linux)/.exec(agent)?.[1]
  if (!browser) return agent.slice(0, 40) || 'Not known'
  return system ? `${browser === 'Edg' ? 'Edge' : browser}, ${system}` : browser
}
