import type { Knex } from 'knex'
import { first } from './001-first'

export const migrations: { name: string; up: (db: Knex) => Promise<void> }[] = [{ name: '001-first', up: first }]
