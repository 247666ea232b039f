import ts from 'typescript'
import type { SwitchNames } from '../../write/switch-names.js'
import { upperFirst } from '../../write/names.js'
import { switchNames } from '../../write/switch-names.js'
import type { Snapshot } from '../session.js'
import { typeSwitchOf } from '../type-switches.js'
import { divideSwitch, settingOf } from './divided-switch.js'
import { isAtTop } from './names-elsewhere.js'
import type { Narrowed } from './narrowed-cases.js'
import { casesByClass, narrowedCases } from './narrowed-cases.js'
import { canName, waits } from './repeated-runs.js'
import { isTypeParameterOf } from './scoped-type-parameters.js'
import { isSettled } from './settled.js'
import type { Unified } from './statement-unifier.js'
import { childrenOf, unifyStatements } from './statement-unifier.js'
import type { DividedCase, DividedSwitch } from './switch-cases.js'
import { keptOf, setOf } from './switch-cases.js'
import type { SwitchHome } from './switch-homes.js'
import { functionAround, isOfSameObject, switchHomes } from './switch-homes.js'

/** A switch, or a chain of conditions that is one, of a class or of a file's functions, with what of it can stand elsewhere. */
export interface FoundSwitch extends DividedSwitch, Omit<SwitchHome, 'code'> {
  readonly key: string
  /** What is done with it all, in the order of the cases. */
  readonly parts: readonly ts.Node[]
  readonly unified: Unified
  /** What the kinds are: the name of their type, or of the property that holds them. */
  readonly over: string
  /** What each case knows of the thing whose property says the kind, where its type tells. */
  readonly narrowed: Narrowed | undefined
}

/** Switches of a class's members, or of a file's functions, whose cases could stand elsewhere. */
export function foundSwitches(node: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot): FoundSwitch[] {
  const { checker, declarations } = snapshot, found: FoundSwitch[] = []
  for (const { code, ...home } of switchHomes(node, snapshot)) {
    let count = 0
    const visit = (at: ts.Node): void => {
      if (ts.isClassLike(at)) return
      if ((ts.isSwitchStatement(at) || ts.isIfStatement(at)) && typeSwitchOf(at, checker, declarations)) {
        const key = `${home.member}${count === 0 ? '' : `:${count + 1}`}`
        count++
        const one = switchAt(at, snapshot)
        // Where `this` is another object, or none, the class has nothing in which what chooses could be kept.
        if (one) found.push({ ...home, owner: home.owner && isOfSameObject(at, code) ? home.owner : undefined, key, ...one })
      }
      ts.forEachChild(at, visit)
    }
    visit(code)
  }
  return found
}

function switchAt(node: ts.SwitchStatement | ts.IfStatement, snapshot: Snapshot): Omit<FoundSwitch, keyof SwitchHome | 'key'> | undefined {
  const { checker } = snapshot, around = functionAround(node)
  const divided = around && divideSwitch(node, around, snapshot), over = divided && kindName(divided, checker)
  if (!divided || over === undefined) return undefined
  const parts = divided.cases.flatMap(one => partsOf(one, divided))
  if (parts.length === 0 || parts.some(waits)) return undefined
  const { subject: asked, isByClass } = divided
  const subject = isByClass ? asked : ts.isPropertyAccessExpression(asked) && checker.getTypeAtLocation(asked.expression).isUnion() ? asked : undefined
  const thing = subject && !isByClass ? (subject as ts.PropertyAccessExpression).expression : asked
  const narrowed = !isSettled(thing, snapshot) ? undefined : isByClass ? casesByClass(thing, divided.cases, checker) : narrowedCases(subject ?? thing, divided.cases, checker)
  // Where a kind says what its holder is, each case knows more of that than a class could be told, but for what has a name of its own.
  if (subject && !narrowed && parts.some(one => contains(one, each => each.getText() === thing.getText()))) return undefined
  const own = keptOf(divided.result).map(one => one.set)
  const unified = unifyStatements([parts], checker, symbol => canName(symbol, snapshot) || isTypeParameterOf(symbol, node) || isOfFile(symbol, node), true, own)
  if (!unified) return undefined
  const holes = new Set<ts.Node>(unified.holes.map(hole => hole.nodes[0]!))
  // What is worked out where the switch stood does not know what the case says of the whole; and where that is all, its class would do nothing.
  if (subject && narrowed && [...holes].some(hole => !isOf(hole, narrowed, snapshot) && contains(hole, one => isOf(one, narrowed, snapshot)))) return undefined
  if (divided.cases.every(one => one.statements.length === 1 && callsOnly(one.statements[0]!, holes))) return undefined
  return { ...divided, parts, unified, over, narrowed }
}

/** Whether a node, or one inside it, is wanted. */
export function contains(node: ts.Node, wanted: (one: ts.Node) => boolean): boolean { return wanted(node) || childrenOf(node).some(child => contains(child, wanted)) }

/** Whether a statement gives back what a call gives that is handed to it whole. */
function callsOnly(statement: ts.Statement, holes: ReadonlySet<ts.Node>): boolean {
  return ts.isReturnStatement(statement) && statement.expression !== undefined && ts.isCallExpression(statement.expression) && holes.has(statement.expression)
}


/** Whether a name means the same everywhere in the file of a node. */
function isOfFile(symbol: ts.Symbol, node: ts.Node): boolean {
  return symbol.declarations?.every(one => one.getSourceFile() === node.getSourceFile() && isAtTop(one)) === true
}

/** What of a case stands elsewhere afterwards; of what is set, only the value. */
function partsOf(one: DividedCase, { result }: Pick<DividedSwitch, 'result'>): ts.Node[] {
  const setting = setOf(result) ? settingOf(one) : undefined
  return setting ? [...one.statements.slice(0, -1), setting.right] : [...one.statements]
}

/** `CraftKind` for a value of it; `Kind` for one of a few texts in a property of that name; `Craft` for an object of one of its classes. */
function kindName({ subject, isByClass }: DividedSwitch, checker: ts.TypeChecker): string | undefined {
  const type = checker.getTypeAtLocation(subject)
  const named = type.aliasSymbol?.name ?? (type.flags & ts.TypeFlags.EnumLike ? enumOf(type.symbol)?.name : isByClass && type.isClassOrInterface() ? type.symbol.name : undefined)
  const property = ts.isPropertyAccessExpression(subject) ? subject.name.text : ts.isIdentifier(subject) ? subject.text : undefined
  return named ?? (property && upperFirst(property))
}

/** A type that has shrunk to one of an enum's members is of that enum. */
function enumOf(symbol: ts.Symbol | undefined): ts.Symbol | undefined {
  const declaration = symbol?.valueDeclaration
  return declaration && ts.isEnumMember(declaration) ? (declaration.parent as ts.EnumDeclaration & { symbol: ts.Symbol }).symbol : symbol
}

/** A case as it is written behind the dot, or in quotes; a class by its name. */
export function labelText(label: ts.Expression): string {
  return ts.isStringLiteralLike(label) || ts.isIdentifier(label) ? label.text : (label as ts.PropertyAccessExpression).name.text
}

/** Names for what stands in the place of a switch. `wanted`: that of the interface. */
export function namesOf({ member, over, cases }: FoundSwitch, wanted: string | null, snapshot: Snapshot): SwitchNames {
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.map(type => type.name)))
  return switchNames(member, over, cases.map(one => one.labels.map(labelText)), wanted, name => !taken.has(name))
}

/** Whether an expression is the thing of which the kind tells. */
export function isOf(node: ts.Node, { symbol }: Narrowed, { checker }: Snapshot): boolean {
  return ts.isIdentifier(node) && (ts.isShorthandPropertyAssignment(node.parent) ? checker.getShorthandAssignmentValueSymbol(node.parent) : checker.getSymbolAtLocation(node)) === symbol
}
