declare module '*.woff2' {
  /** The address at which the file is served. */
  const address: string
  export default address
}
