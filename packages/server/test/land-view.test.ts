import { mkdirSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { dirname, join } from 'node:path'
import { isRefusal } from '@hollowmoor/contract/errors'
import { OpenProject } from '@hollowmoor/host/open-project'
import { landView } from '../src/worker/views.js'

const folders: string[] = []
afterAll(() => { for (const folder of folders) rmSync(folder, { recursive: true, force: true }) })

/** The folder that the map shows first. */
async function startOf(files: Readonly<Record<string, string>>): Promise<string> {
  const root = mkdtempSync(join(tmpdir(), 'hollowmoor-land-'))
  folders.push(root)
  for (const [path, text] of Object.entries(files)) { mkdirSync(dirname(join(root, path)), { recursive: true }); writeFileSync(join(root, path), text) }
  const open = await OpenProject.open(root)
  if (isRefusal(open)) throw new Error(open.message)
  return landView(open.survey, [], path => open.textOf(path)).start
}

/** Classes in a folder, each in a file of its own. */
const classes = (folder: string, count: number) => Object.fromEntries(Array.from({ length: count }, (_, at) => [`${folder}/c${at}.ts`, `export class C${at} { run(): number { return ${at} } }\n`]))

describe('the map begins', () => {
  test('where there is more than one thing to see', async () => {
    expect(await startOf({ ...classes('code/src/locks', 2), ...classes('code/src/tolls', 2) })).toBe('code/src')
    expect(await startOf(classes('code/src', 2))).toBe('code/src')
  })

  test('inside a folder that holds nearly all, for its neighbours say nothing of the whole', async () => {
    const most = { ...classes('src/locks', 6), ...classes('src/tolls', 6), ...classes('src/boats', 6) }
    expect(await startOf({ ...most, ...classes('samples', 2) })).toBe('src')
    expect(await startOf({ ...most, 'build.ts': 'export const one = 1\n' })).toBe('src')
  })

  test('further out where a good part lies beside it, or less is to be seen inside', async () => {
    expect(await startOf({ ...classes('src/locks', 6), ...classes('src/tolls', 6), ...classes('samples', 3) })).toBe('.')
    expect(await startOf({ ...classes('src/locks', 20), ...classes('src/tolls', 1), ...classes('samples', 1), ...classes('more', 1) })).toBe('.')
  })
})
