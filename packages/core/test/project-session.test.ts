import { OverlayFileSource } from '@hollowmoor/core/read/file-source'
import { JavaLanguage } from '@hollowmoor/core/read/java/write/java-language'
import { ProjectSession } from '@hollowmoor/core/read/project-session'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptLanguage } from '@hollowmoor/core/read/typescript/write/typescript-language'
import { offersOf, planStep } from '@hollowmoor/core/remedy/catalogue'
import { measureProject } from '@hollowmoor/core/survey'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'
import { tools } from './java.js'

const ROOT = '/hm-both'
const FILES = {
  'tsconfig.json': '{ "compilerOptions": { "strict": true, "target": "ES2022", "module": "ESNext", "moduleResolution": "Bundler", "types": [] } }',
  'web/lamp.ts': 'export class Lamp {\n  light(): number { return 2 }\n}\n',
  'web/desk.ts': "import { Lamp } from './lamp'\n\nexport class Desk {\n  private lamp = new Lamp()\n\n  open(): number { return this.lamp.light() }\n}\n",
  'src/main/java/a/Motor.java': 'package a;\n\npublic class Motor {\n    public int start() {\n        return 1;\n    }\n}\n',
  'src/main/java/a/Lock.java': 'package a;\n\npublic class Lock {\n    private final Motor motor = new Motor();\n\n    public int open() {\n        return motor.start();\n    }\n}\n'
}

function opened() {
  const session = new ProjectSession(ROOT, [new TypeScriptLanguage(ROOT, DEFAULT_SETTINGS, LIBRARY_FOLDER), new JavaLanguage(ROOT, DEFAULT_SETTINGS, tools)])
  const state = session.read(new OverlayFileSource(new Map(Object.entries(FILES).map(([path, text]) => [`${ROOT}/${path}`, text])), new DiskSource()))
  return { session, state, survey: measureProject(state.facts), writer: session.writer(state) }
}

describe('a project in two languages', () => {
  test('is one survey', () => {
    const { state, survey } = opened()
    expect(state.sources).toEqual(['src/main/java/a/Lock.java', 'src/main/java/a/Motor.java', 'web/desk.ts', 'web/lamp.ts'])
    expect(survey.model.types.map(type => type.id)).toEqual(expect.arrayContaining(['a.Lock', 'a.Motor', 'web/desk.ts#Desk', 'web/lamp.ts#Lamp']))
    expect(state.textOf('web/lamp.ts')).toBe(FILES['web/lamp.ts'])
    expect(state.textOf('src/main/java/a/Motor.java')).toBe(FILES['src/main/java/a/Motor.java'])
  })

  test('asks the language that declares a type, and knows nothing of one that none does', () => {
    const { writer } = opened()
    expect(writer.interfaceMembers('web/lamp.ts#Lamp')).toEqual(['light'])
    expect(writer.interfaceMembers('a.Motor')).toEqual(['start'])
    expect(writer.interfaceMembers('a.Nobody')).toEqual([])
    expect(writer.canMove('a.Nobody', 'b')).toBe(false)
    expect(writer.typeSwitches('web/lamp.ts#Lamp')).toEqual([])
    expect(writer.inject({ type: 'a.Nobody', point: '', name: null, as: null, withDefault: false, levels: 0 })).toMatchObject({ refused: true, reason: 'no-class', message: 'a.Nobody is not a type of the project.' })
  })

  test('steps in both follow on each other, and what they leave is the state of both', () => {
    const { survey, writer, session, state } = opened()
    const offers = offersOf(survey, writer).map(one => one.id)
    for (const id of ['inject:web/desk.ts#Desk:web/lamp.ts#Lamp@lamp', 'inject:a.Lock:a.Motor@motor']) {
      expect(offers).toContain(id)
      const outcome = planStep(id, {}, survey, writer)
      expect(outcome.refused ? outcome.message : outcome.changes.length).toBe(1)
    }
    const { current } = writer
    expect(current.textOf('web/desk.ts')).toContain('  constructor(lamp: Lamp) {\n')
    expect(current.textOf('src/main/java/a/Lock.java')).toContain('public Lock(Motor motor) {')
    expect(session.newProblems(state, current, ['web/desk.ts', 'src/main/java/a/Lock.java'])).toEqual([])
    const broken = session.edit(current, new Map([[`${ROOT}/web/lamp.ts`, 'export class Lamp {}\n'], [`${ROOT}/src/main/java/a/Motor.java`, 'package a;\n\npublic class Motor {\n}\n']]))
    expect(session.newProblems(current, broken, ['web/lamp.ts', 'src/main/java/a/Motor.java'])).toHaveLength(2)
  })

  test('what was wrong before is no new problem wherever it stands now', () => {
    const { session, state } = opened()
    const path = `${ROOT}/src/main/java/a/Motor.java`, motor = (head: string, more = '') => `package a;\n\n${head}public class Motor extends gone.Engine {\n    Number power = \"many\";\n    public void start() { }\n${more}    static class Part {\n        @Override\n        public void turn() { }\n    }\n}\n`
    const before = session.edit(state, new Map([[path, motor('')]]))
    expect(session.newProblems(before, session.edit(before, new Map([[path, motor('/** Turns. */\n')]])), ['src/main/java/a/Motor.java'])).toEqual([])
    expect(session.newProblems(before, session.edit(before, new Map([[path, motor('', '    Number weight = \"much\";\n')]])), ['src/main/java/a/Motor.java'])).toEqual([expect.stringMatching(/Motor\.java:6: String stands where Number is wanted$/)])
    expect(session.newProblems(before, session.edit(before, new Map([[path, motor('', '    Number more = \"many\";\n')]])), ['src/main/java/a/Motor.java'])).toHaveLength(1)
    expect(session.newProblems(before, session.edit(before, new Map([[path, motor('', '    static class Other {\n        @Override\n        public void turn() { }\n    }\n')]])), ['src/main/java/a/Motor.java'])).toEqual([expect.stringContaining('turn says that it overrides, and overrides nothing')])
  })
})
