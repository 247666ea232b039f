import type { PlanRefusal, WriteFirstTestPlan } from '../../../model/plan.js'
import type { TestBeside } from '../../../model/test-beside.js'
import { planRefused } from '../../../model/plan.js'
import type { ClassSymbol } from '../../binding/symbols.js'
import type { Substitution } from '../../binding/types.js'
import { erasure } from '../../binding/types.js'
import { toldOfFirstTest } from '../../write/first-test-notes.js'
import { lowerFirst } from '../../write/names.js'
import { NoSample } from '../../write/no-sample.js'
import { Refused } from '../../write/refused.js'
import { seenCases } from '../../write/seen-cases.js'
import type { BoundProgram } from '../bound-program.js'
import { parentOf } from '../bound-program.js'
import { Field, Kind } from '../syntax.js'
import { checkedJavaStep } from './checked-step.js'
import type { JavaWriteContext, JavaWritten } from './context.js'
import { licence, RESERVED } from './extract-interface.js'
import type { Flaw } from './flaws.js'
import { describeFlaw, newFlaws } from './flaws.js'
import { testFolder } from './implement-interface.js'
import { JavaEditor, NewJavaFile, styleOf } from './java-editor.js'
import { oldJavaTest } from './old-test.js'
import { JavaSampleValues } from './sample-values.js'
import type { JavaTestCase, JavaTestCases } from './test-cases.js'
import { javaTestCases, testableMethods } from './test-cases.js'
import { JavaTestText } from './test-text.js'

/** So often methods whose calls do not compile are left out before it is given up. */
const MOST_TURNS = 5

/** Names of the methods that a first test of a class could call; none where the project does not say with what it is tested. */
export function firstJavaTestMembers(symbol: ClassSymbol, context: JavaWriteContext): string[] {
  const methods = testableMethods(symbol, context.bound)
  if (methods.length === 0 || junitOf(context) === undefined || context.bound.trees.has(targetOf(symbol, `${symbol.name}CharacterizationTest`, context))) return []
  return [...new Set(methods.map(one => one.name))]
}

/** Which JUnit the tests of a project are written for, or else is on its class path. */
function junitOf({ bound, state }: JavaWriteContext): 4 | 5 | undefined {
  let four = 0, five = 0
  for (const [path, { text }] of bound.trees) {
    if (!state.files.isTest(path)) continue
    if (/\bimport (static )?org\.junit\.jupiter\./.test(text)) five++
    else if (/\bimport (static )?org\.junit\.(Test|Assert|\*)/.test(text)) four++
  }
  if (four + five > 0) return five >= four ? 5 : 4
  return bound.program.classIn('org.junit.jupiter.api', 'Test') ? 5 : bound.program.classIn('org.junit', 'Test') ? 4 : undefined
}

function targetOf(symbol: ClassSymbol, name: string, context: JavaWriteContext): string {
  const { path } = context.bound.program.declarations.get(symbol)!.file
  return `${testFolder(path.slice(0, path.lastIndexOf('/') + 1), symbol.packageName, context)}${name}.java`
}

/** A test of a class by itself: first as one that records what it does, then as one that holds what was seen. */
export function writeFirstJavaTest(plan: WriteFirstTestPlan, symbol: ClassSymbol, context: JavaWriteContext): JavaWritten | PlanRefusal {
  const { bound, state, language } = context
  if (testableMethods(symbol, bound).length === 0) return planRefused('no-members', 'It has no public method that a test could call.')
  const junit = junitOf(context)
  if (junit === undefined) return planRefused('no-tests', 'Nothing says with what this project is tested: no test is there, and JUnit is not on its class path.')
  const name = plan.name ?? `${symbol.name}CharacterizationTest`, target = targetOf(symbol, name, context)
  if (!/^[\p{L}_$][\p{L}\p{N}_$]*$/u.test(name) || RESERVED.test(name)) return planRefused('name', `${name} is not a name that a class can have.`)
  if (bound.program.packages.get(symbol.packageName)?.has(name) || state.source.isFile(`${language.root}/${target}`)) return planRefused('done', `${target} exists already; ${plan.name === null ? 'give a name to write another one' : 'choose another name'}.`)
  try {
    const { file } = bound.program.declarations.get(symbol)!
    const names = new NewJavaFile(symbol.packageName, new Set([name]), bound)
    const samples = new JavaSampleValues(bound, names, plan.buildable)
    const own: Substitution = new Map(symbol.typeParameters.map(one => [one, erasure(one)]))
    const type = symbol.name + (symbol.typeParameters.length > 0 ? `<${symbol.typeParameters.map(one => samples.typeText(erasure(one))).join(', ')}>` : '')
    const given = samples.argumentsOf(symbol)
    const setUp = { realObjects: samples.realObjects, doubles: samples.doubles }
    const lower = lowerFirst(symbol.name), variable = RESERVED.test(lower) || /^(calls|name|thrown|alone|saw|record)$/.test(lower) ? `${lower}Itself` : lower
    const text = new JavaTestText(
      { symbol, type, variable, name, given, licence: licence(file.tree.text, styleOf(file.tree).lineEnd) }, names, { junit, ...styleOf(file.tree) }, samples, id => classNamed(id, bound)
    )
    const made = compiling(symbol, variable, own, samples, text, target, junit, context)
    if (made.cases.length === 0) throw new Refused('no-members', `None of its methods can be called with sample values: ${made.leftOut.join('; ')}`)
    const old = oldJavaTest(symbol, context)
    const beside: TestBeside | undefined = old && { ...old, newPath: target, new: { lines: text.setUpLines(), ...setUp } }
    const editor = new JavaEditor(bound)
    const finished = (notes: readonly string[], more: { recorder?: string }): JavaWritten | PlanRefusal => {
      const outcome = checkedJavaStep(editor, context, { notes, choices: { name }, planned: [], passed: isOfJUnit(junit, context) })
      return 'refused' in outcome ? outcome : { ...outcome, step: { ...outcome.step, ...(beside ? { beside } : {}), ...more } }
    }
    if (plan.seen === null) {
      editor.create(target, text.recorder(plan.type, made))
      return finished([], { recorder: target })
    }
    const { cases, leftOut } = seenCases(made.cases, made.queries.map(one => one.text), plan.seen)
    if (cases.length === 0) throw new Refused('nothing-seen', `Nothing that it does can be held: ${[...leftOut, ...made.leftOut].join('; ') || 'no call came to an end'}`)
    editor.create(target, text.holding(cases as (typeof cases[number] & { made: JavaTestCase })[], made.queries))
    return finished(toldOfFirstTest(symbol.name, cases.length, [...leftOut, ...made.leftOut], beside), {})
  } catch (error) {
    if (error instanceof NoSample) throw new Refused('no-sample', `It cannot be built with sample values: ${error.message}`)
    throw error
  }
}

/** The calls whose text compiles; methods of which one does not are left out. */
function compiling(symbol: ClassSymbol, variable: string, own: Substitution, samples: JavaSampleValues, text: JavaTestText, target: string, junit: 4 | 5, context: JavaWriteContext): JavaTestCases {
  const { bound, state, language } = context, passed = isOfJUnit(junit, context)
  const left = new Set<string>()
  for (let turn = 0; ; turn++) {
    const made = javaTestCases(symbol, variable, samples, own, bound, left)
    const told = { ...made, leftOut: made.leftOut.map(one => (left.has(one) ? `${one} (its sample arguments do not fit)` : one)) }
    const { whole, members } = text.skeleton(made)
    const now = language.bound(language.edit(state, new Map([[`${language.root}/${target}`, whole]])))
    const flaws = newFlaws(bound, now, new Set([target]), new Map()).filter(flaw => !passed(flaw, now))
    if (flaws.length === 0) return told
    const before = left.size, tree = now.file(target)?.java.tree
    for (const { node } of flaws) {
      for (let at = node; tree && at >= 0; at = parentOf(tree, at)) {
        const member = tree.kind(at) === Kind.MethodDeclaration ? members.get(tree.textOf(tree.child(at, Field.Name))) : undefined
        if (member !== undefined) left.add(member)
      }
    }
    if (left.size === before || turn === MOST_TURNS) throw new Refused('does-not-compile', `It would not compile: ${describeFlaw(flaws[0]!, now)}`)
  }
}

/** Whether a flaw is only that JUnit is not on the class path by which the project is read. */
function isOfJUnit(junit: 4 | 5, { bound }: JavaWriteContext): (flaw: Flaw, after: BoundProgram) => boolean {
  if (bound.program.classIn(junit === 5 ? 'org.junit.jupiter.api' : 'org.junit', 'Test')) return () => false
  return ({ path, node }, after) => {
    const tree = after.file(path)?.java.tree, text = tree?.textOf(node) ?? ''
    return /^(Test|Assertions|Assert|assert(Equals|Null|True|False|Throws)\b.*|fail\b.*|org\.junit\..*)$/s.test(text)
  }
}

/** A class of the sources or of a library by its qualified name. */
function classNamed(id: string, bound: BoundProgram): ClassSymbol | undefined {
  return bound.classById(id) ?? bound.program.classIn(id.slice(0, Math.max(0, id.lastIndexOf('.'))), id.slice(id.lastIndexOf('.') + 1))
}
