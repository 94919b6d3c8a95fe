/** The package types its functions by name, but hands them out on its default export alone. */
declare module '@fragaria/address-formatter' {
  const addressFormatter: {
    readonly format: (
      parts: Readonly<Record<string, string>>,
      options: { readonly output: 'array'; readonly appendCountry: boolean },
    ) => string[]
  }
  export default addressFormatter
}
