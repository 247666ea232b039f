import { closedFolderOf } from '@hollowmoor/core/edit/closed-folders'
import { ProjectSession } from '@hollowmoor/core/read/project-session'
import { OverlayFileSource } from '@hollowmoor/core/read/file-source'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptLanguage } from '@hollowmoor/core/read/typescript/write/typescript-language'
import { planStep } from '@hollowmoor/core/remedy/catalogue'
import type { Choices } from '@hollowmoor/core/remedy/remedy'
import { measureProject } from '@hollowmoor/core/survey'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'

const ROOT = '/hm-places'
const FILES = {
  'tsconfig.json': '{ "compilerOptions": { "strict": true, "target": "ES2022", "module": "ESNext", "moduleResolution": "Bundler", "types": [] } }',
  '.gitignore': '/made/\n',
  'water/.gitignore': 'kept\n',
  'water/level.ts': "import { Reach } from '../locks/reach'\n\nexport class Level {\n  constructor(readonly reach: Reach) {}\n}\n",
  'locks/reach.ts': "import type { Level } from '../water/level'\n\nexport class Reach {\n  levels: Level[] = []\n}\n"
}
const MOVE = 'move-type:water/level.ts#Level'
const settings = { ...DEFAULT_SETTINGS, exclude: [...DEFAULT_SETTINGS.exclude, 'old/**'] }

function planned(id: string, choices: Choices) {
  const session = new ProjectSession(ROOT, [new TypeScriptLanguage(ROOT, settings, LIBRARY_FOLDER)], settings)
  const texts = new Map(Object.entries(FILES).map(([path, text]) => [`${ROOT}/${path}`, text]))
  const state = session.read(new OverlayFileSource(texts, new DiskSource()))
  return planStep(id, choices, measureProject(state.facts), session.writer(state))
}

describe('a place for new files', () => {
  test('that a survey would see is taken', () => {
    const outcome = planned(MOVE, { newModule: 'locks/levels' })
    expect(outcome.refused ? outcome.message : outcome.changes.map(({ path }) => path)).toContain('locks/levels/level.ts')
  })

  test.each(['.git', '.git/hooks', 'water/.git/x', '.GIT', '.hollowmoor'])('is refused in %s', place => {
    expect(planned(MOVE, { newModule: place })).toMatchObject({ refused: true, reason: 'closed-folder', message: expect.stringContaining('never writes to') })
  })

  test.each([['old', 'old'], ['old/deep', 'old'], ['made/here', 'made'], ['water/kept', 'water/kept']])(
    'is refused in %s, which is excluded', (place, excluded) => {
      const message = expect.stringContaining(`would lie in ${excluded}, which this project excludes`)
      expect(planned(MOVE, { newModule: place })).toMatchObject({ refused: true, reason: 'excluded', message })
    }
  )

  test.each(['/etc', '../outside', 'water/../../outside', 'C:/x', 'node_modules/own'])('is refused where no module can be: %s', place => {
    expect(planned(MOVE, { newModule: place }).refused).toBe(true)
  })
})

test.each([
  ['Le\0vel', 'a NUL character'], ['Le\nvel', 'a line break'], ['Le\u2028vel', 'a line break'], ['Le\u0007vel', 'a control character'],
  ['Le"vel', 'a quotation mark'], ["Le'vel", 'a quotation mark'], ['Le`vel', 'a quotation mark'], ['Le\\vel', 'a backslash']
])('the name %j is refused, with a sentence about it', (name, found) => {
  for (const [id, choice] of [['extract-interface:water/level.ts#Level', 'name'], [MOVE, 'newModule']] as const) {
    const message = `The name ${JSON.stringify(name)} holds ${found}, which no name can have; choose another.`
    expect(planned(id, { [choice]: name })).toMatchObject({ refused: true, message })
  }
})

test('the folders of git are known by every name that a file system may give them', () => {
  for (const path of ['.git/config', 'a/.Git/x', '.git ./x', 'GIT~1/x', 'a\\.git\\x', '.hollowmoor/journal.json']) expect(closedFolderOf(path)).toBeDefined()
  for (const path of ['.gitignore', 'git/x.ts', '.github/x', 'src/.gitkeep', 'git~x/a']) expect(closedFolderOf(path)).toBeUndefined()
})
