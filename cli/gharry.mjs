#!/usr/bin/env node
/* Starts the command line (TypeScript) with this very Node. */
import { spawnSync } from 'node:child_process'
import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { fileURLToPath, pathToFileURL } from 'node:url'

const here = dirname(fileURLToPath(import.meta.url))
const tsx = pathToFileURL(createRequire(import.meta.url).resolve('tsx')).href
const { status, signal } = spawnSync(process.execPath, ['--import', tsx, join(here, 'gharry.ts'), ...process.argv.slice(2)], { stdio: 'inherit', env: { ...process.env, TSX_TSCONFIG_PATH: join(here, '..', 'tsconfig.json') } })
process.exit(signal ? 1 : (status ?? 1))
