// Compares the dependencies of a survey with what the TypeScript language service's find-references gives for every
// declared class, interface and member. `npm run compare [-- DIR ...]`; without folders, packages that ship sources.
import { cpSync, existsSync, mkdtempSync, rmSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import ts from 'typescript'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { isTypeNode, memberHolder } from '@hollowmoor/core/read/typescript/declarations'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { measureProject } from '@hollowmoor/core/survey'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'

const scratch = mkdtempSync(join(tmpdir(), 'hollowmoor-compare-'))
const given = process.argv.slice(2)
const folders = given.length > 0 ? given : ['rxjs', 'immer', 'prosemirror-model', 'prosemirror-state', 'prosemirror-transform'].map(name => {
  const to = join(scratch, name)
  for (const part of ['src', 'package.json', 'tsconfig.json']) {
    const from = join('node_modules', name, part)
    if (existsSync(from)) cpSync(from, join(to, part), { recursive: true })
  }
  return to
})

let failed = false
for (const folder of folders) {
  const outcome = compare(folder)
  console.log(JSON.stringify(outcome.figures))
  for (const line of [...outcome.missing.map(x => `  missing ${x}`), ...outcome.extra.map(x => `  extra   ${x}`)].slice(0, 20)) console.log(line)
  failed ||= outcome.missing.length + outcome.pairs.missing + outcome.pairs.extra > 0
}
rmSync(scratch, { recursive: true, force: true })
process.exitCode = failed ? 1 : 0

function compare(root) {
  const source = new DiskSource()
  const session = new TypeScriptSession(root, DEFAULT_SETTINGS, LIBRARY_FOLDER)
  const snapshot = session.read(source)
  const { model } = measureProject(snapshot.facts)
  const ours = new Map(), importsOnly = new Map()
  for (let index = 0; index < model.references.length; index++) {
    const reference = model.references.at(index)
    if (reference.to < 0) continue
    const key = `${model.types[reference.from].id} -> ${model.types[reference.to].id} . ${reference.member}`
    const place = `${model.files[reference.file].path}:${reference.line}:${reference.column}`
    ;(reference.kind === 'imports-only' ? importsOnly : ours).set(key, place)
  }
  const service = languageService(root, snapshot)
  const program = service.getProgram()
  const pathOf = file => snapshot.files.isSource(file.fileName.slice(root.length + 1)) ? file.fileName.slice(root.length + 1) : undefined
  const definitions = new Map()
  const positions = new Map()
  /** Asked from the other end: find-references at the use names the declaration. */
  const givenFromUse = (key, place) => {
    const [path, line, column] = place.split(':')
    const file = program.getSourceFile(`${root}/${path}`)
    const at = file.getPositionOfLineAndCharacter(line - 1, column - 1)
    const declared = positions.get(key.split(' -> ')[1]) ?? []
    return (service.findReferences(file.fileName, at) ?? []).some(group =>
      group.references.some(one => declared.includes(`${one.fileName}:${one.textSpan.start}`)))
  }
  const leadsTo = (place, fileName, start) => {
    const at = `${place.fileName}:${place.textSpan.start}`
    if (!definitions.has(at)) definitions.set(at, service.getDefinitionAtPosition(place.fileName, place.textSpan.start) ?? [])
    return definitions.get(at).some(one => one.fileName === fileName && one.textSpan.start === start)
  }
  const theirs = new Map(), theirImports = new Map()
  let declarations = 0
  for (const path of snapshot.files.sources) {
    const file = program.getSourceFile(`${root}/${path}`)
    const visit = node => {
      const name = node.name
      const declared = (isTypeNode(node) && !ts.isTypeAliasDeclaration(node) && !ts.isEnumDeclaration(node)) ||
        (memberHolder(node) && ts.isIdentifier(name ?? node))
      if (declared && name && ts.isIdentifier(name) && !(ts.isTypeAliasDeclaration(memberHolder(node) ?? node) )) {
        declarations++
        const to = snapshot.declarations.ownerOf(original(snapshot, node))
        const declaredAt = `${to?.type} . ${to?.member}`
        if (to) positions.set(declaredAt, [...(positions.get(declaredAt) ?? []), `${file.fileName}:${name.getStart()}`])
        // A constant or function merged with an interface of its name is asked about too: together they are one type.
        const merged = isTypeNode(node) ? (node.symbol?.declarations ?? []).filter(other => ts.isVariableDeclaration(other) || ts.isFunctionDeclaration(other)).map(other => other.name) : []
        if (to) for (const asked of [name, ...merged]) for (const group of service.findReferences(asked.getSourceFile().fileName, asked.getStart()) ?? []) {
          const direct = group.definition.kind === 'alias' ||
            (group.definition.fileName === file.fileName && group.definition.textSpan.start === asked.getStart())
          // Groups of other members that this one implements or overrides are theirs, unless a use means both (a union).
          for (const place of group.references) if (direct || leadsTo(place, file.fileName, name.getStart())) note(place, to, program, snapshot, root, pathOf, theirs, theirImports)
        }
      }
      ts.forEachChild(node, visit)
    }
    visit(file)
  }
  const asked = key => askedFor.has(key.split(' -> ')[1])
  const askedFor = targets(snapshot)
  const missing = [...theirs].filter(([key]) => !ours.has(key)).map(([key, place]) => `${key}  ${place}`)
  const extra = [...ours].filter(([key, place]) => asked(key) && !theirs.has(key) && !givenFromUse(key, place)).map(([key, place]) => `${key}  ${place}`)
    .concat([...importsOnly].filter(([key, place]) => asked(key) && !theirImports.has(key) && !givenFromUse(key, place)).map(([key, place]) => `${key} (import)  ${place}`))
  // The same by pairs of types: what the survey calls a dependency.
  const pairOf = key => key.slice(0, key.indexOf(' . '))
  const ourPairs = new Set([...ours.keys(), ...importsOnly.keys()].map(pairOf)), theirPairs = new Set([...theirs.keys()].map(pairOf))
  const allTheirs = new Set([...theirPairs, ...[...theirImports.keys()].map(pairOf)])
  const pairs = {
    compared: theirPairs.size, missing: [...theirPairs].filter(pair => !ourPairs.has(pair)).length,
    extra: [...new Set(extra.map(line => pairOf(line)))].filter(pair => !allTheirs.has(pair)).length
  }
  return {
    missing, extra, pairs,
    figures: { folder: root.split('/').pop(), files: snapshot.files.sources.length, declarations, dependencies: pairs, byMember: { compared: theirs.size, missing: missing.length, extra: extra.length } }
  }
}

/** The same declaration in the survey's own program. */
function original(snapshot, node) {
  const file = snapshot.program.getSourceFile(node.getSourceFile().fileName)
  let found
  const visit = at => { if (at.pos === node.pos && at.end === node.end && at.kind === node.kind) found = at; else if (at.pos <= node.pos && at.end >= node.end) ts.forEachChild(at, visit) }
  ts.forEachChild(file, visit)
  return found
}

/** Targets that find-references was asked about: `type . member` of classes and interfaces. */
function targets(snapshot) {
  const known = new Set()
  for (const facts of snapshot.facts.files) for (const type of facts.types) {
    if (!['class', 'abstract-class', 'interface'].includes(type.kind)) continue
    known.add(`${type.id} . `)
    for (const member of type.members) if (member.kind !== 'constructor' && /^[\w$]+$/.test(member.name)) known.add(`${type.id} . ${member.name}`)
  }
  return known
}

function note(place, to, program, snapshot, root, pathOf, theirs, theirImports) {
  const file = program.getSourceFile(place.fileName)
  const path = pathOf(file)
  if (path === undefined) return
  const token = ts.getTokenAtPosition ? ts.getTokenAtPosition(file, place.textSpan.start) : undefined
  if (!token || ts.findAncestor(token, at => ts.isJSDoc(at))) return
  const parent = token.parent
  // What declares is no use of itself.
  if (parent.name === token && (isTypeNode(parent) || ts.isVariableDeclaration(parent) || memberHolder(parent) || ts.isImportClause(parent))) {
    if (!ts.isImportClause(parent)) return
  }
  if (token.kind === ts.SyntaxKind.ConstructorKeyword || token.kind === ts.SyntaxKind.DefaultKeyword || ts.isExportAssignment(parent)) return
  const unit = `${path}#`
  const line = file.getLineAndCharacterOfPosition(place.textSpan.start).line + 1
  if (ts.findAncestor(token, at => ts.isImportDeclaration(at) || ts.isExportDeclaration(at))) {
    theirImports.set(`${unit} -> ${to.type} . ${to.member}`, `${path}:${line}`)
    return
  }
  let from = unit
  const holder = ts.findAncestor(token, isTypeNode)
  if (holder) from = snapshot.declarations.typeOf(original(snapshot, holder)).id
  if (from === to.type) return
  theirs.set(`${from} -> ${to.type} . ${to.member}`, `${path}:${line}`)
}

function languageService(root, snapshot) {
  const options = snapshot.files.options
  const source = snapshot.source
  const read = path => { const outcome = source.readText(path); return 'text' in outcome ? outcome.text : undefined }
  return ts.createLanguageService({
    getCompilationSettings: () => options,
    getScriptFileNames: () => snapshot.files.sources.map(path => `${root}/${path}`),
    getScriptVersion: () => '1',
    getScriptSnapshot: path => { const text = read(path); return text === undefined ? undefined : ts.ScriptSnapshot.fromString(text) },
    getCurrentDirectory: () => root,
    getDefaultLibFileName: of => `${LIBRARY_FOLDER}/${ts.getDefaultLibFileName(of)}`,
    fileExists: path => source.isFile(path), readFile: read, directoryExists: path => source.isDirectory(path),
    getDirectories: path => source.list(path).filter(entry => entry.kind !== 'file').map(entry => entry.name)
  })
}
