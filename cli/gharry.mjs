#!/usr/bin/env node
/* Starts the command line, which is TypeScript. */
process.argv.splice(2, 0, 'cli/gharry.ts')
await import('../scripts/run.mjs')
