import ts from 'typescript'
import { numberedName } from '../../write/names.js'
import type { Snapshot } from '../session.js'
import type { HandedField } from './handed-fields.js'
import { handedField } from './handed-fields.js'
import type { RepeatedRun } from './repeated-runs.js'
import { staysAsItIs } from './kept-variables.js'
import { isQuietCreation, isSettled } from './settled.js'
import type { Hole } from './statement-unifier.js'
import { childrenOf } from './statement-unifier.js'

/** What the facade is built of: every class that it is for is handed it, and keeps it in a field. */
export interface FacadeCollaborator {
  readonly name: string
  readonly declared: ts.ParameterDeclaration
  readonly holes: readonly Hole[]
  readonly fields: ReadonlyMap<ts.ClassDeclaration, HandedField>
}

/** What its method is handed; `lazy`: as a function, because when it is worked out may matter. */
export interface HandedParameter {
  readonly name: string
  readonly type: ts.Type
  readonly holes: readonly Hole[]
  readonly lazy: boolean
  /** When it is worked out makes no difference. */
  readonly settled: boolean
}

export interface FacadeParts {
  readonly collaborators: readonly FacadeCollaborator[]
  readonly parameters: readonly HandedParameter[]
  /** Names that mean something of its own in the method. */
  readonly names: ReadonlySet<string>
}

/** Divides what differs between the places of a run into what the facade keeps and what each call hands it. */
export function facadeParts(run: RepeatedRun, snapshot: Snapshot): FacadeParts { return dividedHoles(run, snapshot, hole => handedFields(hole, run, snapshot)) }

/**
 * `keeps`: the fields of each class that an expression stands for, where it is one that is kept. `early`: what is worked out
 * before anything else runs; left out where the code runs from its beginning to its end. `typed`: what an expression is handed as,
 * where that is known.
 */
export function dividedHoles(
  run: Pick<RepeatedRun, 'unified'> & { readonly places: readonly { readonly statements: readonly ts.Node[] }[] }, snapshot: Snapshot, keeps: (hole: Hole) => Map<ts.ClassDeclaration, HandedField> | undefined,
  early: ReadonlySet<Hole> = workedOutFirst(run, snapshot), typed: (node: ts.Expression) => ts.Type | undefined = () => undefined
): FacadeParts {
  const { checker } = snapshot
  const names = new Set<string>([...run.unified.locals[0]!.keys()].map(symbol => symbol.name))
  const collaborators: (FacadeCollaborator & { holes: Hole[] })[] = []
  const parameters: (Omit<HandedParameter, 'type'> & { holes: Hole[]; type: ts.Type; own: ts.Type | undefined })[] = []
  const namedInside = wordsOf(run)
  const free = (name: string) => { const found = numberedName(RESERVED.has(name) ? `${name}Value` : name, one => !names.has(one) && !namedInside.has(one)); names.add(found); return found }
  for (const hole of run.unified.holes) {
    const fields = keeps(hole)
    if (fields) {
      const known = collaborators.find(one => [...fields].every(([node, field]) => one.fields.get(node)?.name === field.name))
      if (known) known.holes.push(hole)
      else { const [field] = fields.values(); collaborators.push({ name: free(field!.name.replace(/^[#_]+/, '')), declared: field!.parameter, holes: [hole], fields }) }
      continue
    }
    const settled = hole.nodes.every(node => isSettled(node, snapshot) || staysAsItIs(node, checker))
    // What waits to be asked for is asked for each time.
    const lazy = !settled && !early.has(hole)
    const known = settled || lazy ? parameters.find(one => one.settled === settled && one.lazy === lazy && one.holes[0]!.nodes.every((node, at) => node.getText() === hole.nodes[at]!.getText())) : undefined
    const [node] = hole.nodes as [ts.Expression]
    const told = typed(node) ?? objectAtHand(node, checker)
    const seen = told ? [told] : hole.nodes.map(one => (ts.isShorthandPropertyAssignment(one.parent) ? checker.getTypeOfSymbolAtLocation(checker.getShorthandAssignmentValueSymbol(one.parent)!, one) : checker.getTypeAtLocation(one)))
    const exact = seen.every(one => one === seen[0]) ? seen[0] : undefined
    const ownTypes = exact ? [shown(exact, checker)] : seen.map(one => checker.getBaseTypeOfLiteralType(one))
    const wanted = told || ts.isShorthandPropertyAssignment(node.parent) || isTakenApart(node) ? undefined : checker.getContextualType(node)
    // Where anything is taken, what is handed says more.
    const isLoose = wanted !== undefined && (wanted.flags & (ts.TypeFlags.Any | ts.TypeFlags.Unknown)) !== 0 && ownTypes.every(one => one === ownTypes[0])
    // A text or a number is told as what it is, not as all that its place would take.
    const isPlain = exact !== undefined && (exact.flags & (ts.TypeFlags.String | ts.TypeFlags.Number | ts.TypeFlags.Boolean)) !== 0
    const type = wanted && !isLoose && !isPlain ? wanted : ownTypes[0]!
    // What is handed once serves every place that wants it: as what it is, where they want it as different things.
    const own = exact ?? (ownTypes.every(one => one === ownTypes[0]) ? ownTypes[0]! : undefined)
    const wide = known?.own && own && widest(known.own, own, checker)
    const both = known && known.type !== type ? wide && shown(wide, checker) : known?.type
    if (known && both) { known.holes.push(hole); known.type = both; known.own = wide; continue }
    parameters.push({ name: free(proposedName(hole, snapshot)), type, own, holes: [hole], lazy, settled })
  }
  const [client] = collaborators[0]?.fields.keys() ?? []
  // In the order in which the first class is handed them.
  if (client) collaborators.sort((a, b) => a.fields.get(client)!.index - b.fields.get(client)!.index)
  return { collaborators, parameters, names }
}

/** One of a few values is more than any number or text, but a single value is only what stands here. */
function shown(type: ts.Type, checker: ts.TypeChecker): ts.Type { return type.isUnion() ? type : checker.getBaseTypeOfLiteralType(type) }

/** Of what one thing is in two places the more general: in one of them a condition may have told more of it. */
function widest(a: ts.Type, b: ts.Type, checker: ts.TypeChecker): ts.Type | undefined {
  return a === b || checker.isTypeAssignableTo(b, a) ? a : checker.isTypeAssignableTo(a, b) ? b : undefined
}

/** Fields of a class that the facade is built of, in its order. */
export function handedFieldsOf(node: ts.ClassDeclaration, { collaborators }: FacadeParts): HandedField[] { return collaborators.map(one => one.fields.get(node)!) }

function handedFields(hole: Hole, { places }: RepeatedRun, snapshot: Snapshot): Map<ts.ClassDeclaration, HandedField> | undefined {
  const fields = new Map<ts.ClassDeclaration, HandedField>()
  for (const [at, { node }] of places.entries()) {
    const field = handedField(hole.nodes[at]!, node, snapshot), known = fields.get(node)
    if (!field || (known && known.name !== field.name)) return undefined
    if (!known) fields.set(node, field)
  }
  return fields
}

/** What is worked out before anything in the statements has run that it could see: there an argument of the call is as good. */
function workedOutFirst({ places, unified }: Parameters<typeof dividedHoles>[0], snapshot: Snapshot): Set<Hole> {
  const holes = new Map(unified.holes.map(hole => [hole.nodes[0] as ts.Node, hole]))
  const first = new Set<Hole>()
  let hasRun = false
  const visit = (node: ts.Node, certain: boolean): void => {
    const hole = holes.get(node)
    if (hole) { if (certain && !hasRun) first.add(hole); return }
    const branches = ts.isIfStatement(node) || ts.isConditionalExpression(node) || ts.isIterationStatement(node, false) || ts.isSwitchStatement(node) || ts.isTryStatement(node) || ts.isFunctionLike(node) ||
      (ts.isBinaryExpression(node) && [ts.SyntaxKind.AmpersandAmpersandToken, ts.SyntaxKind.BarBarToken, ts.SyntaxKind.QuestionQuestionToken].includes(node.operatorToken.kind)) || ts.isOptionalChain(node)
    for (const child of childrenOf(node)) visit(child, certain && !branches)
    if (ts.isCallExpression(node) || ts.isAwaitExpression(node) || ts.isTaggedTemplateExpression(node) || ts.isDeleteExpression(node) || setsProperty(node) || (ts.isNewExpression(node) && !isQuietCreation(node, snapshot))) hasRun = true
  }
  for (const statement of places[0]!.statements) visit(statement, true)
  return first
}

/** `const { craft } = …` wants of an object what it takes out of it, and that as anything. */
function isTakenApart({ parent }: ts.Expression): boolean { return ts.isVariableDeclaration(parent) && !ts.isIdentifier(parent.name) && parent.type === undefined }

/** What `this` is: in another class the word would mean that class. */
function objectAtHand(node: ts.Expression, checker: ts.TypeChecker): ts.Type | undefined {
  return node.kind === ts.SyntaxKind.ThisKeyword ? checker.getBaseConstraintOfType(checker.getTypeAtLocation(node)) : undefined
}

/** A setter may run, and what is read afterwards may be another. */
function setsProperty(node: ts.Node): boolean {
  const target = ts.isBinaryExpression(node) && node.operatorToken.kind >= ts.SyntaxKind.FirstAssignment && node.operatorToken.kind <= ts.SyntaxKind.LastAssignment ? node.left
    : (ts.isPrefixUnaryExpression(node) || ts.isPostfixUnaryExpression(node)) && (node.operator === ts.SyntaxKind.PlusPlusToken || node.operator === ts.SyntaxKind.MinusMinusToken) ? node.operand : undefined
  return target !== undefined && !ts.isIdentifier(target)
}

/** By what most places call it, else by what its place is called: the parameter that it is handed as, or the property. */
function proposedName({ nodes }: Hole, { checker }: Snapshot): string {
  const [node] = nodes as [ts.Expression], { parent } = node
  const named = nodes.flatMap(one => (ts.isIdentifier(one) ? [one.text] : []))
  const usual = named.find(name => named.filter(other => other === name).length * 2 > nodes.length)
  if (usual !== undefined) return usual
  if (ts.isPropertyAssignment(parent) && ts.isIdentifier(parent.name)) return parent.name.text
  if (ts.isIdentifier(node)) return node.text
  if ((ts.isCallExpression(parent) || ts.isNewExpression(parent)) && parent.arguments?.includes(node)) {
    const declaration = checker.getResolvedSignature(parent)?.getParameters()[parent.arguments.indexOf(node)]?.valueDeclaration
    if (declaration && ts.isParameter(declaration) && ts.isIdentifier(declaration.name) && !declaration.dotDotDotToken) return declaration.name.text
  }
  if (ts.isPropertyAccessExpression(node)) return node.name.text.replace(/^[#_]+/, '')
  const asked = ts.isCallExpression(node) ? node.expression : undefined
  return asked && ts.isPropertyAccessExpression(asked) && ts.isIdentifier(asked.name) ? asked.name.text : asked && ts.isIdentifier(asked) ? asked.text : 'value'
}

/** Words that are not behind a dot in the statements of the first place, but for those of what is handed in. */
function wordsOf({ places, unified }: Parameters<typeof dividedHoles>[0]): Set<string> {
  const holes = new Set<ts.Node>(unified.holes.map(hole => hole.nodes[0]!)), words = new Set<string>()
  const visit = (node: ts.Node): void => {
    if (holes.has(node)) return
    if (ts.isIdentifier(node) && !(ts.isPropertyAccessExpression(node.parent) && node.parent.name === node) && !(ts.isPropertyAssignment(node.parent) && node.parent.name === node)) words.add(node.text)
    ts.forEachChild(node, visit)
  }
  places[0]!.statements.forEach(visit)
  return words
}

const RESERVED = new Set(['default', 'function', 'class', 'new', 'delete', 'import', 'export', 'switch', 'case', 'package', 'interface', 'private', 'public', 'static', 'enum', 'in', 'void', 'with', 'yield', 'let', 'arguments', 'eval', 'this', 'typeof', 'return', 'await'])
