import ts from 'typescript'
import type { SwitchNames } from '../../write/switch-names.js'
import { switchNames } from '../../write/switch-names.js'
import { memberName } from '../declarations.js'
import type { Snapshot } from '../session.js'
import { typeSwitchOf } from '../type-switches.js'
import type { DividedCase, DividedSwitch } from './divided-switch.js'
import { divideSwitch, settingOf } from './divided-switch.js'
import { canName, waits } from './repeated-runs.js'
import type { Unified } from './statement-unifier.js'
import { unifyStatements } from './statement-unifier.js'

/** A switch in a method of a class, with what of it can stand elsewhere. */
export interface FoundSwitch extends DividedSwitch {
  readonly key: string
  readonly owner: ts.ClassDeclaration
  /** What is done with it all, in the order of the cases. */
  readonly parts: readonly ts.Node[]
  readonly unified: Unified
  /** What the kinds are: the name of their type, or of the property that holds them. */
  readonly over: string
}

/** Switches of a class's methods whose cases could stand elsewhere. */
export function foundSwitches(owner: ts.ClassLikeDeclaration, snapshot: Snapshot): FoundSwitch[] {
  if (!ts.isClassDeclaration(owner) || !owner.name || !ts.isSourceFile(owner.parent) || owner.typeParameters || ts.getDecorators(owner)?.length || /\.[cm]?jsx?$/.test(owner.getSourceFile().fileName)) return []
  const { checker, declarations } = snapshot, found: FoundSwitch[] = []
  for (const method of owner.members) {
    if (!ts.isMethodDeclaration(method) || !method.body || method.typeParameters || method.asteriskToken || ts.getModifiers(method)?.some(one => one.kind === ts.SyntaxKind.StaticKeyword || one.kind === ts.SyntaxKind.AsyncKeyword)) continue
    let count = 0
    const visit = (node: ts.Node): void => {
      if (ts.isFunctionLike(node)) return
      if (ts.isSwitchStatement(node) && typeSwitchOf(node, checker, declarations)) {
        const key = `${memberName(method)}${count === 0 ? '' : `:${count + 1}`}`
        count++
        // Where a kind says what its holder is, each case knows more of that than a class could be told.
        const narrows = ts.isPropertyAccessExpression(node.expression) && checker.getTypeAtLocation(node.expression.expression).isUnion()
        const divided = narrows ? undefined : divideSwitch(node, method, snapshot)
        const parts = divided?.cases.flatMap(one => partsOf(one, divided))
        const unified = parts && parts.length > 0 && !parts.some(waits) ? unifyStatements([parts], checker, symbol => canName(symbol, snapshot), true) : undefined
        const over = kindName(node.expression, checker)
        if (unified && over !== undefined) found.push({ ...divided!, key, owner, parts: parts!, unified, over })
      }
      ts.forEachChild(node, visit)
    }
    visit(method.body)
  }
  return found
}

/** What of a case stands elsewhere afterwards; of what is set, only the value. */
function partsOf(one: DividedCase, { result }: Pick<DividedSwitch, 'result'>): ts.Node[] {
  const setting = typeof result === 'object' ? settingOf(one) : undefined
  return setting ? [...one.statements.slice(0, -1), setting.right] : [...one.statements]
}

/** `CraftKind` for a value of it; `Kind` for one of a few texts in a property of that name. */
function kindName(subject: ts.Expression, checker: ts.TypeChecker): string | undefined {
  const type = checker.getTypeAtLocation(subject)
  const named = type.aliasSymbol?.name ?? (type.flags & ts.TypeFlags.EnumLike ? enumOf(type.symbol)?.name : undefined)
  const property = ts.isPropertyAccessExpression(subject) ? subject.name.text : ts.isIdentifier(subject) ? subject.text : undefined
  return named ?? (property && property.charAt(0).toUpperCase() + property.slice(1))
}

/** A type that has shrunk to one of an enum's members is of that enum. */
function enumOf(symbol: ts.Symbol | undefined): ts.Symbol | undefined {
  const declaration = symbol?.valueDeclaration
  return declaration && ts.isEnumMember(declaration) ? (declaration.parent as ts.EnumDeclaration & { symbol: ts.Symbol }).symbol : symbol
}

/** A case as it is written behind the dot, or in quotes. */
export function labelText(label: ts.Expression): string { return ts.isStringLiteralLike(label) ? label.text : (label as ts.PropertyAccessExpression).name.text }

/** Names for what stands in the place of a switch. `wanted`: that of the interface. */
export function namesOf({ method, over, cases }: FoundSwitch, wanted: string | null, snapshot: Snapshot): SwitchNames {
  const taken = new Set(snapshot.facts.files.flatMap(one => one.types.map(type => type.name)))
  return switchNames(memberName(method), over, cases.map(one => one.labels.map(labelText)), wanted, name => !taken.has(name))
}
