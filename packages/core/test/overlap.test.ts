import { ProjectEditor } from '@hollowmoor/core/read/typescript/write/file-editor'
import { Refused } from '@hollowmoor/core/read/write/refused'
import { readProject } from './project.js'

test('two changes of one place are a refusal that names the file, and no fault', () => {
  const { snapshot } = readProject({ 'a.ts': 'export class Gauge { read(): number { return 1 } }\n' })
  const editor = new ProjectEditor(snapshot, '/hm-test'), own = editor.editor('a.ts')
  own.replace(21, 48, 'level(): number { return 2 }')
  expect(editor.finish().changes).toEqual([{ path: 'a.ts', before: 'export class Gauge { read(): number { return 1 } }\n', after: 'export class Gauge { level(): number { return 2 } }\n' }])
  own.replace(30, 36, 'string')
  expect(() => editor.finish()).toThrow(new Refused('overlap', 'Two changes of a.ts would overlap'))
})
