/** The face of people: what other rooms may use. */
export { leastPassword, mostPassword, passwordFault } from './password'
export { may, type Permission, permissions, type Role, roles, roleIds, whoMay } from './roles'
