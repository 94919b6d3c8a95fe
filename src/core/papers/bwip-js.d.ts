/** The package types its entry for Node and for browsers, but not the one that chooses between them. */
declare module 'bwip-js' {
  export { default } from 'bwip-js/node'
}
