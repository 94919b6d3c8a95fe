import { z } from 'zod'
import type { Application, Refused } from '../shared/application'
import type { RefusalCode } from '../shared/refusals'
import type { Scope } from './scopes'

/** A file as an answer. */
export interface FileAnswer {
  readonly file: Buffer | string
  readonly type: string
}

interface Asked<Query, Body> {
  readonly params: Readonly<Record<string, string>>
  readonly query: Query
  readonly body: Body
  /** One intent of one caller; the same twice is the same. */
  readonly key: string
}

/** One operation of the open interface: what it takes, what comes back, and who may ask. */
export interface Operation {
  readonly method: 'GET' | 'POST' | 'PUT' | 'DELETE'
  /** `/orders/{id}` */
  readonly path: string
  readonly scope: Scope
  readonly summary: string
  readonly query: z.ZodObject
  readonly body: z.ZodObject | null
  /** Null where a file comes back. */
  readonly answer: z.ZodType | null
  readonly fileType: string | null
  readonly status: 200 | 201
  /** What is sent in the tests and shown in the description. */
  readonly example: {
    readonly params?: Readonly<Record<string, string>>
    readonly query?: string
    readonly body?: object
  }
  readonly work: (gharry: Application, asked: Asked<never, never>) => Promise<unknown>
}

interface Given<Q extends z.ZodObject, B extends z.ZodObject> {
  readonly method: Operation['method']
  readonly path: string
  readonly scope: Scope
  readonly summary: string
  readonly query?: Q
  readonly body?: B
  readonly status?: 200 | 201
  readonly example?: Operation['example']
}

const noQuery = z.object({})
const base = (given: Given<z.ZodObject, z.ZodObject>): Omit<Operation, 'answer' | 'fileType' | 'work'> => ({
  ...given,
  query: given.query ?? noQuery,
  body: given.body ?? null,
  status: given.status ?? 200,
  example: given.example ?? {},
})

/** Declares an operation whose answer is JSON. Null from the work is a 404. */
export const operation = <
  A extends z.ZodType,
  Q extends z.ZodObject = z.ZodObject,
  B extends z.ZodObject = z.ZodObject,
>(
  given: Given<Q, B> & {
    readonly answer: A
    readonly work: (gharry: Application, asked: Asked<z.output<Q>, z.output<B>>) => Promise<z.input<A> | Refused | null>
  },
): Operation => ({ ...base(given), answer: given.answer, fileType: null, work: given.work })

/** Declares an operation whose answer is a file. */
export const fileOperation = <Q extends z.ZodObject = z.ZodObject>(
  given: Given<Q, z.ZodObject> & {
    readonly fileType: string
    readonly work: (gharry: Application, asked: Asked<z.output<Q>, unknown>) => Promise<FileAnswer | Refused | null>
  },
): Operation => ({ ...base(given), answer: null, fileType: given.fileType, work: given.work })

/** The page of a list that begins behind `cursor`. */
export const pageQuery = {
  cursor: z.string().max(40).optional().describe('As the page before gave it in `next`'),
  limit: z.coerce.number().int().min(1).max(200).default(50),
}

/** A number in a path; a text that is none leads to nothing. */
export const numberIn = (text: string | undefined): number =>
  text !== undefined && /^\d{1,15}$/.test(text) ? Number(text) : -1

export const isRefused = (answer: unknown): answer is Refused & { readonly code: RefusalCode } =>
  typeof answer === 'object' && answer !== null && 'ok' in answer && answer.ok === false
