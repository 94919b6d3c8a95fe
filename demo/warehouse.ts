/** What the partner's SFTP server takes. */
export const warehouseCredentials = { user: 'mossgill', password: 'demo-warehouse' }

/** The partner whose warehouse in Leeds sends for Mossgill. */
export const leedsPartner = { id: 'aire-storage', name: 'Aire Storage' }
