import ts from 'typescript'
import type { PlanRefusal, WriteFirstTestPlan } from '../../../model/plan.js'
import type { TestBeside } from '../../../model/test-beside.js'
import { planRefused } from '../../../model/plan.js'
import { toldOfFirstTest } from '../../write/first-test-notes.js'
import { lowerFirst, numberedName } from '../../write/names.js'
import { NoSample } from '../../write/no-sample.js'
import { Refused } from '../../write/refused.js'
import { seenCases } from '../../write/seen-cases.js'
import { describeError, diagnosticsOf, keyOf, newErrors } from './check.js'
import { checkedStep, refusalOf } from './checked-step.js'
import type { WriteContext, Written } from './context.js'
import { ProjectEditor } from './file-editor.js'
import { refusedName } from './new-file.js'
import { oldTest } from './old-test.js'
import { SampleValues } from './sample-values.js'
import type { TestCases } from './test-cases.js'
import { testableMembers, testCases } from './test-cases.js'
import type { TestStyle } from './test-style.js'
import { testPath, testStyleOf } from './test-style.js'
import { TestText } from './test-text.js'

/** So often members whose calls do not compile are left out before it is given up. */
const MOST_TURNS = 5

/** Names of the members that a first test of a class could call; none where the project does not say with what it is tested. */
export function firstTestMembers(node: ts.ClassLikeDeclaration, { snapshot, root }: WriteContext): string[] {
  const path = snapshot.pathOf(node.getSourceFile())!
  const members = testableMembers(node, snapshot)
  if (members.length === 0) return []
  const style = testStyleOf(snapshot, root, path)
  return style === undefined || snapshot.files.isSource(testPath(path, `${node.name!.text}Characterization`, style, snapshot)) ? [] : members
}

/** A test of a class by itself: first as one that records what it does, then as one that holds what was seen. */
export function writeFirstTest(plan: WriteFirstTestPlan, node: ts.ClassLikeDeclaration, context: WriteContext): Written | PlanRefusal {
  const { snapshot, root } = context
  const path = snapshot.pathOf(node.getSourceFile())!
  const own = node.name?.text
  if (own === undefined || testableMembers(node, snapshot).length === 0) return planRefused('no-members', 'It has no public method that a test could call.')
  const style = testStyleOf(snapshot, root, path)
  if (!style) return planRefused('no-tests', `Nothing says with what ${path} is tested: no test is there, and no package.json lists Vitest, Jest, Mocha or node's own runner.`)
  const bad = plan.name === null ? undefined : refusedName(plan.name, 'a test')
  if (bad) return bad
  const name = plan.name ?? `${own}Characterization`, target = testPath(path, name, style, snapshot)
  if (snapshot.files.isSource(target) || snapshot.source.isFile(`${root}/${target}`)) return planRefused('done', `${target} exists already; ${plan.name === null ? 'give a name to write another one' : 'choose another name'}.`)
  try {
    const editor = new ProjectEditor(snapshot, root)
    const layout = editor.editor(style.like ?? path).style
    const samples = new SampleValues(snapshot, editor, node, plan.buildable, layout.quote)
    samples.nameOf(node)
    const given = samples.argumentsOf(node)
    const setUp = { realObjects: samples.realObjects, doubles: samples.doubles }
    const subject = numberedName(lowerFirst(own), one => !samples.values.has(one) && !TAKEN.has(one))
    const text = new TestText({ own, subject, given }, editor, target, style, layout)
    const made = compiling(node, text, samples, isOfFramework(style, context), context)
    if (made.cases.length === 0) throw new Refused('no-members', `None of its members can be called with sample values: ${made.leftOut.join('; ')}`)

    const old = oldTest(node, snapshot)
    const beside: TestBeside | undefined = old && { ...old, newPath: target, new: { lines: text.setUpLines(samples), ...setUp } }
    const finished = (notes: readonly string[], more: { recorder?: string }): Written | PlanRefusal => {
      const outcome = checkedStep(editor, context, { notes, choices: { name }, planned: [], passed: isOfFramework(style, context) })
      return 'refused' in outcome ? outcome : { ...outcome, step: { ...outcome.step, ...(beside ? { beside } : {}), ...more } }
    }
    if (plan.seen === null) {
      editor.create(target, text.recorder(`${plan.type}`, made, samples))
      return finished([], { recorder: target })
    }
    const { cases, leftOut } = seenCases(made.cases, made.queries, plan.seen, errorsThrownBy(node))
    if (cases.length === 0) throw new Refused('nothing-seen', `Nothing that it does can be held: ${[...leftOut, ...made.leftOut].join('; ') || 'no call came to an end'}`)
    editor.create(target, text.holding(cases, made.queries, samples))
    return finished(toldOfFirstTest(own, cases.length, [...leftOut, ...made.leftOut], beside), {})
  } catch (error) { return refusalOf(error instanceof NoSample ? new Refused('no-sample', `It cannot be built with sample values: ${error.message}`) : error) }
}

/** Names of the classes of errors that code throws by its own words. */
function errorsThrownBy(node: ts.Node): Set<string> {
  const found = new Set<string>()
  const visit = (at: ts.Node): void => {
    if (ts.isThrowStatement(at) && ts.isNewExpression(at.expression)) found.add(at.expression.expression.getText())
    ts.forEachChild(at, visit)
  }
  visit(node)
  return found
}

/** Whether an error is one that tests have that are there: what their runner gives them need not be known by the settings under which the project is read. */
function isOfFramework({ like }: TestStyle, { snapshot, root }: WriteContext): (error: ts.Diagnostic) => boolean {
  const file = like === null ? undefined : snapshot.program.getSourceFile(`${root}/${like}`)
  const known = new Set(file && like !== null ? diagnosticsOf(snapshot, like, file).map(keyOf) : [])
  return error => known.has(keyOf(error)) || (like === null && isNoRunner(error))
}

/** Code of `Cannot find name`, and those of it with the advice to install the types of a test runner. */
const NO_NAME = 2304, NO_RUNNER: ReadonlySet<number> = new Set([2582, 2593])

/** Whether an error is only that the runner which a project says it has is not installed: it is asked for again when the test is run. */
function isNoRunner({ code, file, start, length }: ts.Diagnostic): boolean {
  return NO_RUNNER.has(code) || (code === NO_NAME && file?.text.slice(start, (start ?? 0) + (length ?? 0)) === 'expect')
}

/** The calls whose text compiles; members of which one does not are left out. */
function compiling(node: ts.ClassLikeDeclaration, text: TestText, samples: SampleValues, passed: (error: ts.Diagnostic) => boolean, { session, snapshot, root }: WriteContext): TestCases {
  const left = new Map<string, string>()
  for (let turn = 0; ; turn++) {
    const made = testCases(node, text.subject, samples, snapshot, new Set(left.keys()))
    const told = { ...made, leftOut: made.leftOut.map(one => (left.has(one) ? `${one} (${left.get(one)!})` : one)) }
    const { whole, members } = text.skeleton(made, samples)
    const after = session.edit(snapshot, new Map([[`${root}/${text.target}`, whole]]))
    const errors = newErrors(snapshot, after, root, [text.target]).filter(error => !passed(error))
    if (errors.length === 0) return told
    const before = left.size
    for (const error of errors) {
      const line = error.file?.getLineAndCharacterOfPosition(error.start ?? 0).line
      const member = line === undefined ? undefined : members.get(line)
      if (member !== undefined && !left.has(member)) left.set(member, 'its sample arguments do not fit')
    }
    if (left.size === before || turn === MOST_TURNS) throw new Refused('does-not-compile', `It would not compile: ${describeError(errors[0]!, root)}`)
  }
}

/** Names that the test itself has. */
const TAKEN: ReadonlySet<string> = new Set(['assert', 'expect', 'test', 'it', 'alone', 'calls', 'saw', 'given', 'unknown', 'record', 'shown', 'write', 'function', 'default', 'package', 'new', 'class', 'delete', 'switch', 'import', 'export', 'case', 'in', 'enum', 'this', 'var', 'let', 'const', 'static', 'interface', 'private', 'public', 'yield', 'await', 'return', 'void', 'with', 'null', 'true', 'false', 'if', 'for', 'do', 'while', 'try', 'catch', 'throw', 'super', 'typeof'])
