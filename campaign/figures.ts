/** The value below which a share of a list lies; 0 of none. */
export function percentile(list: readonly number[], share: number): number {
  const sorted = [...list].sort((a, b) => a - b)
  return sorted[Math.min(sorted.length - 1, Math.floor(sorted.length * share))] ?? 0
}

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms))
