/** The page of a reader: their locale, and the seller's home currency and units. */
export function page(locale: string, home = 'EUR', units = 'metric'): void {
  document.documentElement.dataset.locale = locale
  document.body.innerHTML = `<div data-home="${home}" data-units="${units}" data-paper="A4"></div>`
}

/** Nothing is drawn in tests, though popovers ask how large they are, what moves, and to be scrolled to. */
export function nothingDrawn(): void {
  globalThis.ResizeObserver = class {
    observe(): void {}
    unobserve(): void {}
    disconnect(): void {}
  }
  Object.assign(Element.prototype, { getAnimations: () => [], scrollIntoView: () => undefined })
}
