import { seededRandom } from '@hollowmoor/core/graph/random'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { measureProject } from '@hollowmoor/core/survey'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'
import type { Files } from './project.js'
import { documentText, sourceOf } from './project.js'

/** Edits of several kinds: inside bodies, of signatures, of inferred results, whole files coming and going. */
const EDITS: ((files: Files, random: () => number) => Files)[] = [
  (files, random) => replaceIn(files, random, /\{ return (\d+) \}/, (_, n) => `{ const x = ${Number(n) + 1}; return x }`),
  (files, random) => replaceIn(files, random, /\{ const x = (\d+); return x \}/, (_, n) => `{ return ${n} }`),
  (files, random) => replaceIn(files, random, /run\(\): number/, () => 'run(extra = 1): number'),
  (files, random) => replaceIn(files, random, /run\(extra = 1\): number/, () => 'run(): number'),
  (files, random) => replaceIn(files, random, /give\(\) \{ return new C(\d)\(\)/, (_, n) => `give() { return new C${(Number(n) + 1) % 6}()`),
  (files, random) => replaceIn(files, random, /^/, () => '\n'),
  files => ({ ...files, 'extra.ts': files['extra.ts'] === undefined ? 'import { C1 } from "./c1"\nexport const extra = new C1().run()\n' : `${files['extra.ts']}// more\n` }),
  files => Object.fromEntries(Object.entries(files).filter(([path]) => path !== 'extra.ts')),
  // What an import leads to comes, goes, and is covered by another.
  files => toggled(files, 'may.ts', 'export class May { run(): number { return 1 } }\n'),
  files => toggled(files, 'may/index.ts', 'import { C2 } from "../c2"\nexport class May extends C2 {}\n'),
  files => toggled(files, 'global.ts', 'declare global { interface Array<T> { run(): T } }\nexport {}\n'),
  (files, random) => replaceIn(files, random, /total\(\): number \{/, () => 'total(): number { broken.name();')
]

function toggled(files: Files, path: string, text: string): Files {
  return files[path] === undefined ? { ...files, [path]: text } : Object.fromEntries(Object.entries(files).filter(([other]) => other !== path))
}

function replaceIn(files: Files, random: () => number, pattern: RegExp, by: (...groups: string[]) => string): Files {
  const paths = Object.keys(files).filter(path => pattern.test(files[path]!) && path.startsWith('c'))
  const path = paths[Math.floor(random() * paths.length)]
  return path === undefined ? files : { ...files, [path]: files[path]!.replace(pattern, by) }
}

function start(): Files {
  const files: Files = {}
  for (let at = 0; at < 6; at++) {
    const next = (at + 1) % 6
    files[`c${at}.ts`] = `import { C${next} } from "./c${next}"\nexport class C${at} {\n  private other?: C${next}\n  run(): number { return ${at} }\n  give() { return new C${next}() }\n  total(): number { return this.give().give().run() + (this.other?.run() ?? 0) }\n}\n`
  }
  files['user.ts'] = 'import { May } from "./may"\nexport class User {\n  private may = new May()\n  run(): number { return this.may.run() }\n  each() { return [this.may].run() }\n}\n'
  files['outer.ts'] = 'import { User } from "./user"\nexport class Outer {\n  run() { return new User().each().run() }\n}\n'
  return files
}

test('over random edits, reading again gives byte for byte what reading afresh gives', () => {
  for (let seed = 1; seed <= 6; seed++) {
    const random = seededRandom(seed)
    const session = new TypeScriptSession('/hm-test', DEFAULT_SETTINGS, LIBRARY_FOLDER)
    let files = start()
    let snapshot = session.read(sourceOf(files))
    let survey = measureProject(snapshot.facts)
    for (let step = 0; step < 14; step++) {
      files = EDITS[Math.floor(random() * EDITS.length)]!(files, random)
      const before = snapshot.facts
      snapshot = session.read(sourceOf(files), snapshot)
      survey = measureProject(snapshot.facts, {}, undefined, { survey, facts: before })
      const fresh = new TypeScriptSession('/hm-test', DEFAULT_SETTINGS, LIBRARY_FOLDER).read(sourceOf(files))
      expect({ seed, step, text: documentText(survey) }).toEqual({ seed, step, text: documentText(measureProject(fresh.facts)) })
    }
  }
})

test('a change inside a body leaves the facts of every other file as they were', () => {
  const session = new TypeScriptSession('/hm-test', DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const before = session.read(sourceOf(start()))
  const after = session.read(sourceOf({ ...start(), 'c3.ts': start()['c3.ts']!.replace('return 3', 'return 33') }), before)
  const same = after.facts.files.filter((facts, at) => facts === before.facts.files[at]).map(facts => facts.path)
  expect(same).toEqual(['c0.ts', 'c1.ts', 'c2.ts', 'c4.ts', 'c5.ts', 'outer.ts', 'user.ts'])
})

test('a file that comes leaves the facts of those that do not lead to it as they were', () => {
  const session = new TypeScriptSession('/hm-test', DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const before = session.read(sourceOf(start()))
  const after = session.read(sourceOf({ ...start(), 'may.ts': 'export class May { run(): number { return 1 } }\n', 'far.ts': 'import { C1 } from "./c1"\nexport const far = new C1()\n' }), before)
  const known = new Map(before.facts.files.map(facts => [facts.path, facts]))
  expect(after.facts.files.filter(facts => known.get(facts.path) !== facts).map(facts => facts.path)).toEqual(['far.ts', 'may.ts', 'outer.ts', 'user.ts'])
})

test('code that has only moved keeps what was measured between its types, and tells where it stands now', () => {
  const session = new TypeScriptSession('/hm-test', DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const before = session.read(sourceOf(start())), survey = measureProject(before.facts)
  const moved = session.read(sourceOf({ ...start(), 'c3.ts': `// One more line.\n${start()['c3.ts']!.replace('return 3', '/* three */ return 3')}` }), before)
  const after = measureProject(moved.facts, {}, undefined, { survey, facts: before.facts })
  expect(after.reach).toBe(survey.reach)
  expect(after.typeCycles).toBe(survey.typeCycles)
  expect(after.model.types.find(type => type.name === 'C3')!.line).toBe(survey.model.types.find(type => type.name === 'C3')!.line + 1)
  const changed = session.read(sourceOf({ ...start(), 'c3.ts': start()['c3.ts']!.replace('return 3', 'return this.total()') }), moved)
  expect(measureProject(changed.facts, {}, undefined, { survey: after, facts: moved.facts }).reach).not.toBe(survey.reach)
})
