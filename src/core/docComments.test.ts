import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import ts from 'typescript'

const folders = ['src/core', 'src/data']
const files = folders.flatMap((folder) =>
  readdirSync(folder, { recursive: true, encoding: 'utf8' })
    .filter((file) => file.endsWith('.ts') && !/test|migrations|\.d\.ts/.test(file))
    .map((file) => join(folder, file)),
)

/** Exported functions of a file, and whether each has a comment that says what it promises. */
function functionsIn(file: string): { name: string; described: boolean }[] {
  const source = ts.createSourceFile(file, readFileSync(file, 'utf8'), ts.ScriptTarget.Latest, true)
  return source.statements.flatMap((statement) => {
    const exported =
      ts.canHaveModifiers(statement) &&
      ts.getModifiers(statement)?.some(({ kind }) => kind === ts.SyntaxKind.ExportKeyword) === true
    if (!exported) return []
    const described = ts.getJSDocCommentsAndTags(statement).length > 0
    if (ts.isFunctionDeclaration(statement)) return [{ name: statement.name!.text, described }]
    if (!ts.isVariableStatement(statement)) return []
    return statement.declarationList.declarations.flatMap(({ name, initializer }) =>
      initializer && ts.isArrowFunction(initializer) ? [{ name: name.getText(), described }] : [],
    )
  })
}

test('every function that leaves a file of core or data says what it promises', () => {
  const all = files.flatMap((file) => functionsIn(file).map((found) => ({ ...found, at: `${file} ${found.name}` })))
  expect(all.length).toBeGreaterThan(300)
  expect(all.filter(({ described }) => !described).map(({ at }) => at)).toEqual([])
})
