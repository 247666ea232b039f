import { textBuiltNotes } from '@hollowmoor/core/remedy/text-built'
import { planStep } from '@hollowmoor/core/remedy/catalogue'
import { readJava } from './java.js'
import { readProject } from './project.js'

const notes = (line: string, before: string | null = null) => textBuiltNotes([{ path: 'a.ts', before, after: `first\n${line}\n` }])

test.each([
  ['a template', 'db.query(`select * from craft where name = ${name}`)', 'SQL'],
  ['texts that are added', 'statement.executeQuery("SELECT id FROM craft WHERE name = \'" + name + "\'");', 'SQL'],
  ['a value on the next line', "db.run('delete from craft where id = ' +\n  id)", 'SQL'],
  ['a format', 'jdbc.update(String.format("update craft set name = \'%s\'", name));', 'SQL'],
  ['a command', "execSync(`tar -xf ${file}`)", 'shell'],
  ['a shell that is named', 'new ProcessBuilder("sh", "-c", "ls " + folder).start();', 'shell']
])('%s is told of where it moves', (_, line, kind) => {
  expect(notes(line)).toEqual([expect.stringMatching(new RegExp(`^a\\.ts:2 builds (a )?${kind}`))])
  // What stood there before does not move.
  expect(notes(line, `${line}\n`)).toEqual([])
})

test.each([
  ['values that are handed over', "db.query('select * from craft where name = $1', [name])"],
  ['words that only look like it', 'log.write(`select a craft, ${name}`)'],
  ['a list of arguments', "execFileSync('tar', ['-xf', file])"],
  ['a pattern', 'const found = /a+/.exec(text)']
])('%s is not', (_, line) => { expect(notes(line)).toEqual([]) })

test('a move tells the reviewer at the line where it stands afterwards, in either language', () => {
  const { survey, writer } = readProject({
    'a/store.ts': "declare const db: { query(text: string): unknown }\nexport class Store {\n  find(name: string): unknown {\n    return db.query(`select * from craft where name = '${name}'`)\n  }\n}\n",
    'b/other.ts': 'export const other = 1\n'
  })
  const outcome = planStep('move-type:a/store.ts#Store', { module: 'b' }, survey, writer)
  if (outcome.refused) throw new Error(outcome.message)
  expect(outcome.notes.filter(note => note.includes('SQL'))).toEqual(['b/store.ts:4 builds SQL from text, and moves: hand the values over as parameters of the statement instead.'])

  const java = readJava({ 'a/Store.java': 'package a;\n\npublic class Store {\n    public void open(String folder) throws java.io.IOException {\n        Runtime.getRuntime().exec("open " + folder);\n    }\n}\n', 'b/Other.java': 'package b;\n\npublic class Other {\n    int n() { return 1; }\n}\n' })
  const moved = planStep('move-type:a.Store', { module: 'b' }, java.survey, java.language.writer(java.state))
  if (moved.refused) throw new Error(moved.message)
  expect(moved.notes.filter(note => note.includes('shell'))).toEqual([expect.stringContaining('b/Store.java:5 builds a shell command from text')])
})
