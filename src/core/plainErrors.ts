import { z } from 'zod'

const named: Readonly<Record<string, string>> = { string: 'a text', number: 'a number', int: 'a whole number', boolean: 'true or false', array: 'a list', object: 'made of named parts', record: 'made of named parts' }

/*
 * What a schema refuses is said in plain words, behind the place it stands at: "stage: must be one of triage, packing".
 * Words that a schema brings along go first.
 */
z.config({
  customError: (issue) => {
    switch (issue.code) {
      case 'invalid_type': return issue.input === undefined ? 'is missing' : `must be ${named[issue.expected] ?? issue.expected}`
      case 'invalid_value': return issue.values.length === 1 ? `must be ${String(issue.values[0])}` : `must be one of ${issue.values.map(String).join(', ')}`
      case 'too_small': return issue.origin === 'string' ? (issue.minimum === 1 ? 'must not be empty' : `must have at least ${String(issue.minimum)} characters`) : issue.origin === 'array' ? `must have at least ${String(issue.minimum)}` : `must be ${issue.inclusive === false ? 'more than ' : ''}${String(issue.minimum)}${issue.inclusive === false ? '' : ' or more'}`
      case 'too_big': return issue.origin === 'string' ? `must have at most ${String(issue.maximum)} characters` : issue.origin === 'array' ? `must have at most ${String(issue.maximum)}` : `must be ${issue.inclusive === false ? 'less than ' : ''}${String(issue.maximum)}${issue.inclusive === false ? '' : ' or less'}`
      case 'unrecognized_keys': return `has parts that are not known: ${issue.keys.join(', ')}`
      default: return undefined
    }
  },
})
