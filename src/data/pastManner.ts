/** SQL: in which of three ways a trial takes an order in a state: not at all, as waiting, as gone. Of migration 046. */
export const pastManner = (row: 'NEW' | 'OLD'): string =>
  `CASE WHEN ${row}.state IN ('cancelled', 'fulfilled elsewhere', 'combined') THEN 0
        WHEN ${row}.state IN ('attention', 'held', 'ready') THEN 1 ELSE 2 END`
