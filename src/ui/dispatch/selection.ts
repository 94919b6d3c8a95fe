/** Orders on their way from the Desk to Dispatch; they outlive a reload of the page, not the tab. */
const place = 'gharry selection'

export const keepSelection = (orders: readonly number[]): void =>
  window.sessionStorage.setItem(place, JSON.stringify(orders))

export function keptSelection(): number[] {
  try {
    const kept: unknown = JSON.parse(window.sessionStorage.getItem(place) ?? '[]')
    return Array.isArray(kept) ? kept.filter((id): id is number => Number.isInteger(id)) : []
  } catch {
    return []
  }
}
