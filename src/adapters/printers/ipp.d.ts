declare module 'ipp' {
  /** A request as bytes (RFC 8010). */
  function serialize(request: object): Buffer
  function parse(bytes: Buffer): Record<string, unknown>
  const ipp: { serialize: typeof serialize; parse: typeof parse }
  export default ipp
}
