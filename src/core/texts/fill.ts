import { Liquid } from 'liquidjs'

/** There are no files for a template: nothing can be included, rendered or laid out from anywhere. */
const noFiles = {
  readFileSync: (): string => {
    throw new Error('a template cannot take in files')
  },
  readFile: (): Promise<string> => Promise.reject(new Error('a template cannot take in files')),
  existsSync: (): boolean => false,
  exists: (): Promise<boolean> => Promise.resolve(false),
  contains: (): Promise<boolean> => Promise.resolve(false),
  containsSync: (): boolean => false,
  resolve: (_root: string, file: string): string => file,
}

// Templates see only what they are given, and may neither loop for long nor fill the memory.
const liquid = new Liquid({
  ownPropertyOnly: true,
  strictVariables: true,
  renderLimit: 200,
  memoryLimit: 200_000,
  parseLimit: 100_000,
  fs: noFiles,
  relativeReference: false,
  dynamicPartials: false,
})
for (const tag of ['include', 'render', 'layout', 'block'])
  liquid.registerTag(tag, {
    parse: () => {
      throw new Error(`there is no {% ${tag} %} here`)
    },
    render: () => '',
  })

/**
 * Milliseconds that all texts of one document may take together: much, where it is printed; little, where somebody
 * types and others wait.
 */
export interface Budget {
  left: number
}
/** A budget of so many milliseconds. */
export const documentBudget = (most = 400): Budget => ({ left: most })
// Each turn of a loop costs time; a range makes many of them at once.
const maxRangeLength = /\(\s{0,20}[\w.-]{1,60}\s{0,20}\.\.\s{0,20}([\w.-]{1,60})\s{0,20}\)/g
const maxTurns = 1000

export type Filled = { readonly ok: true; readonly text: string } | { readonly ok: false; readonly sentence: string }

/**
 * Fills the placeholders of a text. What a person got wrong in it comes back as a sentence, not as a throw; `what` is
 * how the text is called in it.
 */
export function fillText(template: string, scope: object, budget: Budget, what: string): Filled {
  const wide = [...template.matchAll(maxRangeLength)].find(([, end]) => !(Number(end) <= maxTurns))
  if (wide)
    return {
      ok: false,
      sentence: `The ${what} cannot be filled: a range goes to a number of at most ${maxTurns}, not ${wide[1]!.slice(0, 30)}.`,
    }
  if (budget.left <= 0)
    return { ok: false, sentence: `The ${what} cannot be filled: its texts take too long together.` }
  const began = now()
  try {
    const text: unknown = liquid.parseAndRenderSync(template, scope, {
      renderLimit: Math.min(200, budget.left),
      memoryLimit: 200_000,
    })
    return { ok: true, text: String(text).slice(0, 20_000) }
  } catch (error) {
    return {
      ok: false,
      sentence: `The ${what} cannot be filled: ${error instanceof Error ? error.message.split('\n')[0] : 'unknown reason'}.`,
    }
  } finally {
    budget.left -= now() - began
  }
}

// The core has no clock of its own; how long a template takes is no part of what it says.
const now = (): number => performance.now()
