import { z } from 'zod'
import type { Operation } from './operation'
import { operations } from './operations'
import { scopes } from './scopes'
import { problemShape } from './shapes'

type Schema = Record<string, unknown>

/** Shapes with a name of their own stand once, under `components`. */
const componentsIn = (io: 'input' | 'output', schema: z.ZodType, components: Map<string, Schema>): Schema => {
  const made = z.toJSONSchema(schema, { io, unrepresentable: 'any' }) as Schema & { $defs?: Record<string, Schema> }
  const { $defs = {}, $schema: _schema, ...rest } = made
  const moved = (part: unknown): unknown =>
    JSON.parse(JSON.stringify(part).replaceAll('"#/$defs/', '"#/components/schemas/')) as unknown
  const id = typeof rest.id === 'string' ? rest.id : undefined
  for (const [name, own] of Object.entries($defs)) {
    const { id: _id, ...plain } = own
    components.set(name, moved(plain) as Schema)
  }
  const { id: _id, ...plain } = rest
  if (id === undefined) return moved(plain) as Schema
  components.set(id, moved(plain) as Schema)
  return { $ref: `#/components/schemas/${id}` }
}

const problem = (description: string): Schema => ({
  description,
  content: { 'application/problem+json': { schema: { $ref: '#/components/schemas/Problem' } } },
})

/** `getOrdersIdLabels` */
const nameOf = ({ method, path }: Operation): string =>
  method.toLowerCase() +
  path
    .split(/\W/)
    .filter(Boolean)
    .map((word) => word[0]!.toUpperCase() + word.slice(1))
    .join('')

function describe(operation: Operation, components: Map<string, Schema>): Schema {
  const query = componentsIn('input', operation.query, components) as {
    properties?: Record<string, Schema>
    required?: string[]
  }
  const parameters = [
    ...[...operation.path.matchAll(/\{(\w+)\}/g)].map(([, name]) => ({
      ...{ name, in: 'path', required: true, schema: { type: 'string' } },
      ...(operation.example.params?.[name!] ? { example: operation.example.params[name!] } : {}),
    })),
    ...Object.entries(query.properties ?? {}).map(([name, schema]) => ({
      ...{ name, in: 'query', required: query.required?.includes(name) ?? false, schema },
    })),
    ...(operation.method === 'POST'
      ? [
          {
            name: 'Idempotency-Key',
            in: 'header',
            required: false,
            description: 'One key for one intent: the same within a day is answered once, and again with the same.',
            schema: { type: 'string', maxLength: 100 },
          },
        ]
      : []),
  ]
  const content = operation.answer
    ? { 'application/json': { schema: componentsIn('output', operation.answer, components) } }
    : { [operation.fileType ?? 'application/octet-stream']: { schema: { type: 'string', format: 'binary' } } }
  return {
    operationId: nameOf(operation),
    summary: operation.summary,
    tags: [operation.path.split('/')[1]],
    description: `Needs the scope \`${operation.scope}\`: ${scopes[operation.scope]}.`,
    security: [{ token: [] }],
    ...(parameters.length > 0 ? { parameters } : {}),
    ...(operation.body
      ? {
          requestBody: {
            required: true,
            content: {
              'application/json': {
                schema: componentsIn('input', operation.body, components),
                ...(operation.example.body ? { example: operation.example.body } : {}),
              },
            },
          },
        }
      : {}),
    responses: {
      [operation.status]: { description: 'Done', content },
      400: problem('The input makes no sense; `fields` says where.'),
      401: problem('No token, or one that was ended.'),
      403: problem('The token has another scope.'),
      404: problem('There is no such thing.'),
      409: problem('It cannot be done now.'),
      429: problem('Too many calls; `Retry-After` says when to come again.'),
    },
  }
}

/** The description of the open interface (OpenAPI 3.1), made of the shapes that it is checked by. */
export function openDocument(address: string): Schema {
  const components = new Map<string, Schema>()
  componentsIn('output', problemShape, components)
  const paths: Record<string, Record<string, Schema>> = {}
  for (const operation of operations)
    (paths[operation.path] ??= {})[operation.method.toLowerCase()] = describe(operation, components)
  return {
    openapi: '3.1.0',
    info: {
      title: 'Gharry',
      version: '1',
      description:
        'Orders, decisions, quotes, parcels and rules. Amounts are minor units, weights grams, lengths millimetres, moments UTC. Lists come in pages: `next` is the `cursor` of the page behind. Errors are RFC 9457. How many calls are left is in the `RateLimit` heads.',
    },
    servers: [{ url: `${address}/api/v1` }],
    paths,
    components: {
      schemas: Object.fromEntries(components),
      securitySchemes: { token: { type: 'http', scheme: 'bearer', description: 'Set-up, Open interface' } },
    },
  }
}
