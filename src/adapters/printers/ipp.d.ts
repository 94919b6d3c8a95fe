declare module 'ipp' {
  const ipp: {
    /** A request, or an answer, as bytes (RFC 8010). */
    readonly serialize: (message: object) => Buffer
    /** What bytes say; the file behind them comes as a text, and is damaged by it. */
    readonly parse: (bytes: Buffer) => Record<string, unknown>
  }
  export default ipp
}
