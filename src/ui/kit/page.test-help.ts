/** The page of a reader: their locale, and the seller's home currency and units. */
export function page(locale: string, home = 'EUR', units = 'metric'): void {
  document.documentElement.dataset.locale = locale
  document.body.innerHTML = `<div data-home="${home}" data-units="${units}" data-paper="A4"></div>`
}
