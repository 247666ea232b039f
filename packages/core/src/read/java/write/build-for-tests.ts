import type { BuildForTestsPlan, PlanRefusal } from '../../../model/plan.js'
import type { RepeatedSequence } from '../../../model/repeated-sequence.js'
import { planRefused } from '../../../model/plan.js'
import type { Type } from '../../binding/types.js'
import type { Node } from '../../syntax/flat-tree.js'
import { NONE } from '../../syntax/flat-tree.js'
import { numberedName } from '../../write/names.js'
import { Refused } from '../../write/refused.js'
import type { Called } from '../../write/repeated-runs.js'
import { byCalls, findRepeated, keysOf } from '../../write/repeated-runs.js'
import { parentOf } from '../bound-program.js'
import { LocalSymbol } from '../scope.js'
import { Field, Kind } from '../syntax.js'
import { filesUsing } from './affected-files.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import { dividedHoles } from './facade-parts.js'
import { JavaEditor, NewJavaFile } from './java-editor.js'
import { givenArguments, handedTexts, movedStatements, thrownBy, writtenParameters } from './moved-run.js'
import { freeName } from './provision.js'
import type { JavaRunPlace } from './repeated-runs.js'
import { called, callsIn, placesOf, usedAfter, variableOf } from './repeated-runs.js'
import type { JavaStatement, JavaUnified } from './statement-unifier.js'
import { unifyJavaStatements } from './statement-unifier.js'
import { takenNames } from './taken-names.js'
import { typeText } from './type-text.js'

/** Set-up that several tests have alike. */
interface RepeatedSetUp extends Called {
  readonly places: readonly JavaRunPlace[]
  readonly unified: JavaUnified
  /** Numbers of its variables that some test uses behind it, in the order in which they are declared. */
  readonly results: readonly number[]
}

/** So many statements in all places together are worth one that they share; with more arguments, building is as simple. */
const SAVED = 6, MOST_PARAMETERS = 6

function setUpsOf(type: string, { bound, state }: JavaWriteContext): RepeatedSetUp[] {
  const tests = new Set(state.facts.files.filter(file => file.test).map(file => file.path))
  const anchors = filesUsing(state, type).filter(path => tests.has(path)).flatMap(path => callsIn(path, bound))
  const declares = ({ file: { tree }, node }: JavaStatement) => tree.kind(node) === Kind.LocalVariableDeclaration
  return findRepeated(type, anchors, {
    unify: runs => unifyJavaStatements(runs, bound.program),
    called: (statements, unified) => called(statements, bound, new Set(unified?.holes.map(hole => hole.nodes[0]!))),
    // What a test does with what it has set up stays in the test.
    mayBegin: declares, mayEnd: statement => declares(statement) && called([statement], bound, new Set()).built.size > 0, calls: 2
  }, run => {
    const places = placesOf(run.places)
    const results = [...new Set(places.flatMap((place, at) => usedAfter(place, run.unified.locals[at]!)))].sort((a, b) => a - b)
    return run.built.size < 2 || results.length === 0 || places.length * places[0]!.statements.length < SAVED ? undefined : { ...run, places, results }
  })
}

const lineOf = ({ file: { tree }, statements: [first] }: JavaRunPlace): number => tree.text.slice(0, tree.start(first!.node)).split('\n').length

function setUpKeys(runs: readonly RepeatedSetUp[]): string[] { return keysOf(runs.map(run => run.places[0]!.file.path)) }

function proposedName(run: RepeatedSetUp, context: JavaWriteContext): string {
  const { bound } = context, taken = takenNames(context)
  // What the last statement builds, and not what that is handed.
  const [last] = called([run.places[0]!.statements.at(-1)!], bound, new Set()).built
  return numberedName(`${bound.classById(last!)!.name}SetUp`, one => !taken.has(one))
}

/** Set-up with a type that tests have alike and that one class could do for all of them. */
export function repeatedJavaSetUps(type: string, context: JavaWriteContext): RepeatedSequence[] {
  const runs = setUpsOf(type, context), keys = setUpKeys(runs)
  return runs.flatMap((run, at) => {
    const parts = dividedHoles(run, context.bound, () => undefined)
    if (!parts || parts.parameters.length > MOST_PARAMETERS || parts.parameters.filter(one => one.lazy).length > 1) return []
    return [{
      key: keys[at]!, types: byCalls(run), places: run.places.map(place => `${place.file.path}:${lineOf(place)}`), statements: run.places[0]!.statements.length, name: proposedName(run, context), method: '',
      edits: run.places.length + 1, files: new Set(run.places.map(place => place.file.path)).size + 1
    }]
  })
}

/** A class beside the tests that sets up what several of them set up alike, and has what they use of it. */
export function buildForJavaTests(plan: BuildForTestsPlan, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  const runs = setUpsOf(plan.type, context), run = runs[setUpKeys(runs).indexOf(plan.sequence)]
  const parts = run && dividedHoles(run, bound, () => undefined)
  if (!run || !parts) return planRefused('sequence', `No set-up with ${plan.type} is alike in several tests any more.`)
  const name = plan.name ?? proposedName(run, context)
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
  const [first] = run.places as [JavaRunPlace], { packageName } = first.owner, { parameters } = parts
  const target = `${first.file.path.slice(0, first.file.path.lastIndexOf('/') + 1)}${name}.java`
  if (bound.program.packages.get(packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('file-exists', `${name} exists already beside ${first.owner.name}; choose another name.`)

  const editor = new JavaEditor(bound), { lineEnd, indent } = editor.file(first.file.path).style
  const names = new NewJavaFile(packageName, new Set([name]), bound), inner = indent + indent
  const body = movedStatements(first, handedTexts(parameters), names, inner)
  const results = run.results.map(number => resultOf(run, number))
  for (const local of results) if (parameters.some(one => one.name === local.name)) throw new Refused('name-taken', `${local.name} is handed in and given`)
  const thrown = thrownBy(run.places, bound).map(one => names.nameOf(one))
  const taken = writtenParameters(parameters, names, type => typeText(type, names))
  const access = run.places.every(place => place.owner.packageName === packageName) ? '' : 'public '
  const code = [
    `/** Sets up what ${run.places.length} tests set up alike. */`, `${access}final class ${name} {`,
    ...results.map(local => `${indent}${access}final ${typeText(local.type, names)} ${local.name};`), '',
    `${indent}${access}${name}(${taken.join(', ')})${thrown.length > 0 ? ` throws ${thrown.join(', ')}` : ''} {`, inner + body,
    ...results.map(local => `${inner}this.${local.name} = ${local.name};`), `${indent}}`, '}', ''
  ]
  const imports = [...names.needed].sort().map(one => `import ${one};`)
  editor.create(target, [...licence(first.file.tree.text, lineEnd), ...(packageName === '' ? [] : [`package ${packageName};`, '']), ...imports, ...(imports.length > 0 ? [''] : []), ...code].join(lineEnd))

  /** Names that are given here, by the method: one test may set up the same twice. */
  const given = new Set<string>()
  for (const [at, place] of run.places.entries()) {
    const { file, block, statements, method } = place, { tree } = file, own = editor.file(file.path)
    const keyOf = (one: string) => `${file.path} ${method} ${one}`
    const variable = numberedName('setUp', one => freeName(one, file, method, new Set()) === one && !given.has(keyOf(one)))
    given.add(keyOf(variable))
    const type = own.byName(packageName, name)
    own.replace(tree.start(statements[0]!.node), tree.end(statements.at(-1)!.node), `${type} ${variable} = new ${type}(${givenArguments(parameters, at, tree).join(', ')});`)
    for (let node = tree.after(statements.at(-1)!.node); node < tree.after(block); node += 5) {
      const meaning = file.meaning(node), number = meaning instanceof LocalSymbol ? run.unified.locals[at]!.get(meaning.node) : undefined
      if (number === undefined || tree.kind(node) !== Kind.Identifier) continue
      if (isSet(node, tree)) throw new Refused('assigned', `${file.path}:${tree.text.slice(0, tree.start(node)).split('\n').length} sets ${tree.textOf(node)} to something else`)
      own.replaceNode(node, `${variable}.${resultOf(run, number).name}`)
    }
  }
  const lines = ({ file: { tree }, statements }: JavaRunPlace) => tree.text.slice(tree.start(statements[0]!.node), tree.end(statements.at(-1)!.node)).split('\n').length
  return checkedJavaStep(editor, context, {
    notes: [`${run.places.reduce((sum, place) => sum + lines(place), 0)} lines of set-up in ${run.places.length} tests become ${run.places.length}, and ${body.split('\n').length + results.length} in one place.`], choices: { name }, planned: []
  })
}

function resultOf(run: RepeatedSetUp, number: number): { readonly name: string; readonly type: Type } {
  const found = variableOf(run, number)
  if (!found) throw new Refused('result', 'Something that is used behind the set-up is no plain variable of it')
  return found
}

function isSet(node: Node, tree: JavaRunPlace['file']['tree']): boolean {
  const parent = parentOf(tree, node)
  return tree.kind(parent) === Kind.UpdateExpression || (tree.kind(parent) === Kind.AssignmentExpression && tree.child(parent, Field.Left) === node) || parent === NONE
}
