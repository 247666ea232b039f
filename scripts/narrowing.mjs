// How many of the annotations that the compiler would accept narrowed one by one does Extract interface narrow?
// `npm run narrowing [-- DIR or package ...]`.
import { cpSync, existsSync, mkdtempSync, rmSync, symlinkSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { affectedPaths, newErrors } from '@hollowmoor/core/read/typescript/write/check'
import { ProjectEditor } from '@hollowmoor/core/read/typescript/write/file-editor'
import { annotationsOf } from '@hollowmoor/core/read/typescript/write/narrow'
import { declarationOf, typeScriptWriter } from '@hollowmoor/core/read/typescript/write/writer'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'

const given = process.argv.slice(2)
const scratch = mkdtempSync(join(tmpdir(), 'hollowmoor-narrowing-'))
const modules = resolve('node_modules')
let accepted = 0, reached = 0
for (const name of given.length > 0 ? given : ['withymere', 'immer', 'prosemirror-state', 'prosemirror-transform']) {
  const from = name === 'withymere' ? resolve('demo/withymere/typescript') : existsSync(join(modules, name)) ? join(modules, name) : resolve(name)
  const root = join(scratch, name.split('/').pop())
  for (const part of name === 'withymere' ? ['.'] : ['src', 'package.json', 'tsconfig.json']) if (existsSync(join(from, part))) cpSync(join(from, part), join(root, part), { recursive: true })
  symlinkSync(modules, join(root, 'node_modules'))
  const session = new TypeScriptSession(root, DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const start = session.read(new DiskSource())
  const figures = { folder: name, classes: 0, annotations: 0, accepted: 0, reached: 0 }
  for (const type of start.facts.files.flatMap(file => file.types).filter(one => one.kind === 'class')) {
    const plan = narrow => ({ type: type.id, members: null, name: null, place: 'own-file', client: null, narrow })
    const bare = typeScriptWriter(session, start), whole = typeScriptWriter(session, start)
    const without = bare.extractInterface(plan(false)), done = whole.extractInterface(plan(true))
    if (without.refused || done.refused) continue
    figures.classes++
    const { snapshot } = bare
    const path = type.id.slice(0, type.id.indexOf('#'))
    const file = without.changes.find(change => change.before === null)?.path ?? path
    const annotations = annotationsOf(declarationOf(type.id, snapshot, root), snapshot)
    const left = new Set(annotationsOf(declarationOf(type.id, whole.current, root), whole.current).map(one => `${one.path}:${one.file.text.slice(0, one.name.pos).split('\n').length}`))
    for (const annotation of annotations) {
      figures.annotations++
      const editor = new ProjectEditor(snapshot, root)
      const one = editor.editor(annotation.path)
      one.replace(annotation.name.getStart(), annotation.name.end, one.nameFor({ name: done.choices.name, file, specifier: null, typeOnly: true }))
      const { changes } = editor.finish()
      const after = session.edit(snapshot, new Map(changes.map(change => [`${root}/${change.path}`, change.after])))
      if (newErrors(snapshot, after, root, affectedPaths(after, root, changes.map(change => change.path))).length > 0) continue
      figures.accepted++
      if (!left.has(placeIn(annotation, whole.current, snapshot, root))) figures.reached++
    }
  }
  accepted += figures.accepted
  reached += figures.reached
  console.log(JSON.stringify(figures))
}
rmSync(scratch, { recursive: true, force: true })
console.log(`${reached} of ${accepted} annotations that would be accepted one by one are narrowed (${Math.round((100 * reached) / Math.max(1, accepted))} %)`)
process.exitCode = reached >= accepted * 0.8 ? 0 : 1

/** Where an annotation's line stands after the whole change: found by counting the annotations' own order, not by text. */
function placeIn(annotation, after, before, root) {
  const old = before.program.getSourceFile(`${root}/${annotation.path}`), now = after.program.getSourceFile(`${root}/${annotation.path}`)
  const line = old.text.slice(0, annotation.name.pos).split('\n').length
  // Narrowing adds or removes import lines only, all of them above: counted from the end, lines keep their number.
  return `${annotation.path}:${line + now.text.split('\n').length - old.text.split('\n').length}`
}
