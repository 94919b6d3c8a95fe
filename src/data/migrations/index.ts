import type { Knex } from 'knex'
import { first } from './001-first'
import { pinnedOrders } from './002-pinned-orders'

export const migrations: { name: string; up: (db: Knex) => Promise<void> }[] = [{ name: '001-first', up: first }, { name: '002-pinned-orders', up: pinnedOrders }]
