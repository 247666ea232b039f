// Compares what Hollowmoor binds the names of Java sources to with what javac does. Needs a JDK of 17 or later.
// `npm run compare:java -- MODULE=FOLDER ...` for modules of the JDK, or `FOLDER [--classpath JARS]` for others.
import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join, resolve } from 'node:path'
import { gunzipSync } from 'node:zlib'
import { unzipSync } from 'fflate'
import { readClassFile } from '@hollowmoor/core/read/classfile/class-file'
import { StubIndex, writeStubs } from '@hollowmoor/core/read/classfile/stub-index'
import { Overloads } from '@hollowmoor/core/read/binding/overloads'
import { ClassSymbol, CONSTRUCTOR, FieldSymbol, MethodSymbol } from '@hollowmoor/core/read/binding/symbols'
import { erasure } from '@hollowmoor/core/read/binding/types'
import { BodyBinder } from '@hollowmoor/core/read/java/bodies'
import { JavaFile } from '@hollowmoor/core/read/java/scope'
import { JavaProgram } from '@hollowmoor/core/read/java/program'
import { JAVA_GRAMMAR, Kind, Field } from '@hollowmoor/core/read/java/syntax'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'

const args = process.argv.slice(2)
const take = name => { const at = args.indexOf(name); return at < 0 ? undefined : args.splice(at, 2)[1] }
const classpath = take('--classpath')
const shown = Number(take('--show') ?? 20)
const home = process.env.JAVA_HOME ?? '/usr/lib/jvm/java-17-openjdk-amd64'
const scratch = mkdtempSync(join(tmpdir(), 'hollowmoor-javac-'))
const grammar = await Grammar.load(readFileSync(resolve('node_modules/@repomix/tree-sitter-wasms/out/tree-sitter-java.wasm')), JAVA_GRAMMAR)
const jdk = new StubIndex(gunzipSync(readFileSync('packages/core/data/jdk.stubs.gz')).toString())

function* javaFiles(folder) {
  for (const name of readdirSync(folder).sort()) {
    const path = join(folder, name)
    if (statSync(path).isDirectory()) yield* javaFiles(path)
    else if (name.endsWith('.java')) yield path
  }
}

/** Everything that the JDK has, packages that it does not export included: the JDK's own modules use those. */
function wholeJdk() {
  const stubs = []
  for (const file of readdirSync(join(home, 'jmods')).filter(name => /^(java|jdk)\./.test(name))) {
    const entries = unzipSync(readFileSync(join(home, 'jmods', file)).subarray(4), { filter: ({ name }) => name.startsWith('classes/') && name.endsWith('.class') })
    for (const content of Object.values(entries)) { const stub = readClassFile(content); if (stub) stubs.push(stub) }
  }
  return new StubIndex(writeStubs(stubs))
}

function jarStubs(jars) {
  const stubs = []
  for (const jar of jars) for (const content of Object.values(unzipSync(readFileSync(jar), { filter: ({ name }) => name.endsWith('.class') && !name.startsWith('META-INF/') }))) {
    const stub = readClassFile(content)
    if (stub) stubs.push(stub)
  }
  return new StubIndex(writeStubs(stubs))
}

function compare(module, folder) {
  const paths = [...javaFiles(folder)].filter(path => !path.endsWith('module-info.java') && !path.endsWith('package-info.java'))
  const libraries = [module ? wholeJdk() : jdk, ...(classpath ? [jarStubs(classpath.split(':'))] : [])]
  const started = performance.now()
  const cpu = process.cpuUsage()
  const files = paths.map(path => new JavaFile(path, grammar.parse(readFileSync(path, 'utf8'))))
  const parsed = performance.now()
  const program = new JavaProgram(files, libraries)
  const overloads = new Overloads(program.hierarchy, program.functions)
  const declared = performance.now()
  for (const file of files) {
    try { new BodyBinder(program, file, overloads).bind() } catch (error) { console.log(`  FAILED ${file.path}: ${error.stack.split('\n').slice(0, 4).join(' | ')}`) }
  }
  const bound = performance.now()
  const seconds = { parse: (parsed - started) / 1000, declare: (declared - parsed) / 1000, bind: (bound - declared) / 1000, cpu: process.cpuUsage(cpu).user / 1e6, memory: Math.round(process.memoryUsage().rss / 1e6) }
  console.log(JSON.stringify(seconds))
  writeFileSync(join(scratch, 'options'), ['-proc:none', '-implicit:none', '-XDrawDiagnostics', ...(module ? ['--patch-module', `${module}=${folder}`] : []), ...(classpath ? ['-classpath', classpath] : [])].join('\n'))
  writeFileSync(join(scratch, 'sources'), [...javaFiles(folder)].filter(path => !path.endsWith('package-info.java') && !(module && path.endsWith('module-info.java'))).join('\n'))
  execFileSync(join(home, 'bin/java'), ['-Xmx3g', resolve('scripts/java/JavacUses.java'), join(scratch, 'options'), join(scratch, 'sources'), join(scratch, 'uses')], { stdio: 'inherit' })
  const theirs = new Map()
  for (const line of readFileSync(join(scratch, 'uses'), 'utf8').split('\n')) {
    if (line === '') continue
    const [path, at, kind, owner, name, parameters] = line.split('\t')
    const key = `${path}:${at}${kind === 'C' ? 'C' : ''}`
    theirs.set(key, { kind, owner: plain(owner), name, parameters: plain(parameters) })
  }
  const tally = { uses: 0, same: 0, sameName: 0, missing: 0, wrong: 0 }
  const types = { uses: 0, same: 0, missing: 0, wrong: 0 }
  const edges = { theirs: new Set(), ours: new Set() }
  const differences = []
  const oursBy = new Map()
  const top = name => name.replace(/\$.*/, '')
  let unbound = 0, names = 0
  for (const file of files) {
    const { tree } = file
    const spans = file.types.map(symbol => { const { node } = program.declarations.get(symbol); return { start: tree.start(node), end: tree.end(node), name: binaryOf(symbol) } })
    const holderOf = at => spans.find(one => one.start <= at && at < one.end)?.name
    unbound += file.unbound.size
    for (let n = 0; n < tree.size; n++) {
      const node = n * 5, meaning = file.meaning(node)
      if (!meaning || meaning.kind === 'local') continue
      names++
      let at = tree.start(node)
      const kind = tree.kind(node)
      const isConstructor = meaning instanceof MethodSymbol && meaning.name === CONSTRUCTOR
      if (isConstructor && kind === Kind.ObjectCreationExpression) at = tree.start(tree.child(node, Field.Type))
      const key = `${file.path}:${at}${isConstructor ? 'C' : ''}`
      oursBy.set(key, meaning)
      const owner = binaryOf(meaning instanceof ClassSymbol ? meaning : meaning.owner)
      const from = holderOf(at)
      if (from && top(owner) !== from) edges.ours.add(`${from} -> ${top(owner)}`)
    }
    for (const [key, one] of theirsByPath(theirs).get(file.path) ?? []) {
      const at = Number(/:(\d+)C?$/.exec(key)[1])
      if (!isWritten(file, at, one)) continue
      const from = holderOf(at)
      if (from && top(one.owner) !== from && one.owner) edges.theirs.add(`${from} -> ${top(one.owner)}`)
      const meaning = oursBy.get(key)
      const count = one.kind === 'T' ? types : tally
      count.uses++
      if (!meaning) { count.missing++; differences.push(`missing ${one.kind} ${one.owner}.${one.name}(${one.parameters})  ${place(file, at)} ${reason(file, at)}`); continue }
      const owner = binaryOf(meaning instanceof ClassSymbol ? meaning : meaning.owner)
      const parameters = meaning instanceof MethodSymbol ? meaning.signature.parameters.map(text).join(',') : ''
      const same = owner === one.owner && (meaning instanceof ClassSymbol || (meaning.name === one.name && (meaning instanceof FieldSymbol || parameters === one.parameters || one.kind === 'C' && (meaning.owner.flags & 0x4000) !== 0)))
      if (same) count.same++
      else { count.wrong++; differences.push(`wrong ${one.kind} ${one.owner}.${one.name}(${one.parameters}) ours ${owner}.${meaning.name}(${parameters})  ${place(file, at)}`) }
    }
  }
  const found = [...edges.theirs].filter(edge => edges.ours.has(edge)).length, trueOnes = [...edges.ours].filter(edge => edges.theirs.has(edge)).length
  const percent = (part, whole) => `${(100 * part / Math.max(1, whole)).toFixed(2)} %`
  console.log(JSON.stringify({
    code: module ?? folder, files: files.length, edges: edges.theirs.size, found: percent(found, edges.theirs.size), true: percent(trueOnes, edges.ours.size),
    members: { ...tally, right: percent(tally.same, tally.uses) }, types: { ...types, right: percent(types.same, types.uses) }, unresolved: percent(unbound, names + unbound)
  }))
  const step = Math.max(1, Math.floor(differences.length / shown))
  for (let index = 0; index < differences.length; index += step) console.log(`  ${differences[index]}`)
  for (const edge of [...edges.theirs].filter(edge => !edges.ours.has(edge)).slice(0, 10)) console.log(`  edge missing ${edge}`)
  for (const edge of [...edges.ours].filter(edge => !edges.theirs.has(edge)).slice(0, 10)) console.log(`  edge extra ${edge}`)
  writeFileSync('/tmp/javac-differences.txt', differences.join('\n'))

  /** Whether a use stands in the text: javac also tells of those that it adds itself. Members of arrays and `.class` are no members of a class. */
  function isWritten(file, at, { kind, owner, name }) {
    if (!owner || owner === 'Array' || /^(int|long|short|byte|char|boolean|float|double|void)$/.test(owner) || ['this', 'super', 'class'].includes(name)) return false
    const rest = file.tree.text.slice(at, at + 300)
    if (kind === 'C') return /^(super|this)\b/.test(rest) || /\bnew\s+(<[^>]*>\s*)?(@[\w.]+\s+)*$/.test(file.tree.text.slice(Math.max(0, at - 200), at)) || /^[\w.<>,\s[\]?]+::\s*(<[^>]*>)?\s*new\b/.test(rest)
    const simple = kind === 'T' ? owner.slice(Math.max(owner.lastIndexOf('.'), owner.lastIndexOf('$')) + 1) : name
    return rest.startsWith(simple) && !/^[\w$]/.test(rest.slice(simple.length))
  }

  function place(file, at) { return `${file.path.slice(folder.length + 1)}:${file.tree.text.slice(0, at).split('\n').length} ${file.tree.text.slice(Math.max(0, at - 30), at + 30).replace(/\s+/g, ' ')}` }
  function reason(file, at) { for (const [node, why] of file.unbound) if (file.tree.start(node) === at) return `[${why}]`; return '' }
}

const byPath = new WeakMap()
function theirsByPath(theirs) {
  let found = byPath.get(theirs)
  if (!found) {
    byPath.set(theirs, found = new Map())
    for (const [key, one] of theirs) { const path = key.replace(/:\d+C?$/, ''); if (!found.has(path)) found.set(path, []); found.get(path).push([key, one]) }
  }
  return found
}

function binaryOf(symbol) {
  if (!symbol.outer) return symbol.id
  return `${binaryOf(symbol.outer)}$${symbol.name}`
}

/** Numbers of local and anonymous classes are javac's own. */
function plain(name) {
  return name.replace(/\$\d+/g, '$')
}

function text(type) {
  const plain = erasure(type)
  switch (plain.tag) {
    case 'array': return `${text(plain.element)}[]`
    case 'class': return binaryOf(plain.symbol)
    default: return plain.name ?? '?'
  }
}

for (const arg of args) {
  const [module, folder] = arg.includes('=') ? arg.split('=') : [null, arg]
  compare(module, resolve(folder))
}
rmSync(scratch, { recursive: true, force: true })
