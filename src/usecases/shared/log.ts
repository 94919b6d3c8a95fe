import pino, { type Logger } from 'pino'

/** Lines of JSON without secrets and personal data. */
export const makeLog = (level = 'info'): Logger =>
  pino({
    level,
    base: null,
    redact: [
      '*.secret',
      '*.token',
      '*.authorization',
      'authorization',
      '*.email',
      '*.recipient',
      '*.buyer',
      '*.address',
    ],
    serializers: { err: plainError },
  })

/**
 * An error without what the database or a library may have put into it: kind, code, the first line, and where it came
 * from.
 */
function plainError(error: unknown): object {
  const { name, code, message, stack } = error as { name?: string; code?: unknown; message?: string; stack?: string }
  return {
    name,
    code,
    message: (message ?? '')
      .split('\n')[0]!
      .slice(0, 300)
      .replace(/[^\s@]{1,64}@[^\s@]{1,190}/g, '…@…'),
    stack: (stack ?? '')
      .split('\n')
      .filter((line) => /^\s{1,8}at /.test(line))
      .slice(0, 12)
      .join('\n'),
  }
}
