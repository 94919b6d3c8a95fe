declare module 'gs1-barcode-parser-mod' {
  interface Element {
    /** Application identifier, such as `01`. */
    readonly ai: string
    readonly raw: string
  }
  /** Throws where the text is no element string. */
  export function parseBarcode(text: string): { readonly parsedCodeItems: readonly Element[] }
}
