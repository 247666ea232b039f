import ts from 'typescript'
import type { InjectionPoint } from '../../../model/plan.js'
import { memberName, symbolOf, unitMemberName } from '../declarations.js'
import { isInertType } from '../inert.js'
import type { Snapshot } from '../session.js'
import { importsRenamed, meansSymbol, mentions } from './narrow.js'

/** A point with the code behind it. */
export interface FoundPoint {
  readonly told: InjectionPoint
  /** For a creation: the `new`. For an instance: every use of it in the class. */
  readonly nodes: readonly (ts.NewExpression | ts.Identifier)[]
  /** The member that the creation is in; undefined for an instance, which may be used in many. */
  readonly member: ts.ClassElement | undefined
}

/** The places where a class builds or fetches collaborators of the project itself, in source order. */
export function findInjectionPoints(type: string, node: ts.ClassLikeDeclaration, snapshot: Snapshot): FoundPoint[] {
  const points: FoundPoint[] = []
  const repeats = new Map<string, number>()
  const instances = new Map<ts.Symbol, { uses: ts.Identifier[]; member: ts.ClassElement }>()
  const sites = creationSites(node, snapshot)
  const files = new Set(sites.map(site => site.getSourceFile())).size
  for (const member of node.members) {
    if (ts.canHaveModifiers(member) && ts.getModifiers(member)?.some(modifier => modifier.kind === ts.SyntaxKind.StaticKeyword)) continue
    const visit = (at: ts.Node): void => {
      if (ts.isClassLike(at) || ts.isTypeNode(at)) return
      // A default of a parameter can be given from outside already.
      if (ts.isParameter(at) && ts.isConstructorDeclaration(at.parent)) return
      if (ts.isNewExpression(at)) {
        const created = collaboratorOf(at, snapshot)
        if (created) {
          const base = `${created.id}@${memberName(member)}`
          const times = (repeats.get(base) ?? 0) + 1
          repeats.set(base, times)
          const key = times === 1 ? base : `${base}~${times}`
          points.push({
            nodes: [at], member, told: {
              key, type, collaborator: created.id, label: created.name, kind: 'creation', member: memberName(member),
              line: at.getSourceFile().getLineAndCharacterOfPosition(at.getStart()).line + 1, edits: sites.length + 3, files: files + 1
            }
          })
        }
      } else if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at)) {
        const symbol = exportedInstance(at, snapshot)
        if (symbol) {
          const entry = instances.get(symbol) ?? { uses: [], member }
          entry.uses.push(at)
          instances.set(symbol, entry)
        }
      }
      ts.forEachChild(at, visit)
    }
    ts.forEachChild(member, visit)
  }
  for (const [symbol, { uses, member }] of instances) {
    const declaration = symbol.declarations![0]!
    const unit = `${snapshot.pathOf(declaration.getSourceFile())}#`
    const name = unitMemberName(declaration)!
    points.push({
      nodes: uses, member: undefined, told: {
        key: `${unit}${name}`, type, collaborator: unit, label: name, kind: 'instance', member: memberName(member),
        line: uses[0]!.getSourceFile().getLineAndCharacterOfPosition(uses[0]!.getStart()).line + 1, edits: sites.length + uses.length + 1, files: files + 1
      }
    })
  }
  return points
}

/** The project class that a `new` makes, where it is one that a test may want to replace: no record, no exception. */
export function collaboratorOf(node: ts.NewExpression, snapshot: Snapshot): { id: string; name: string; node: ts.ClassLikeDeclaration } | undefined {
  const { checker } = snapshot
  const found = checker.getSymbolAtLocation(node.expression)
  const symbol = found && found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
  const declaration = symbol?.declarations?.find(ts.isClassLike)
  if (!symbol || !declaration || ts.isThrowStatement(node.parent)) return undefined
  const owner = snapshot.declarations.ownerOf(declaration)
  if (!owner || isInertType(symbol, checker, new Map())) return undefined
  return { id: owner.type, name: declaration.name?.text ?? symbol.name, node: declaration }
}

/** The exported constant that a name means, where it holds an object of a class or interface of the project. */
function exportedInstance(name: ts.Identifier, snapshot: Snapshot): ts.Symbol | undefined {
  const { checker } = snapshot
  const found = checker.getSymbolAtLocation(name)
  if (!found || !(found.flags & ts.SymbolFlags.Alias)) return undefined
  const symbol = checker.getAliasedSymbol(found)
  const declaration = symbol.declarations?.[0]
  if (!declaration || !ts.isVariableDeclaration(declaration) || unitMemberName(declaration) === null) return undefined
  if (snapshot.pathOf(declaration.getSourceFile()) === undefined || !(ts.getCombinedNodeFlags(declaration) & ts.NodeFlags.Const)) return undefined
  const type = checker.getTypeAtLocation(declaration)
  const holder = type.symbol?.declarations?.find(at => ts.isClassLike(at) || ts.isInterfaceDeclaration(at))
  const owner = holder && snapshot.declarations.ownerOf(holder)
  if (!owner || isInertType(type.symbol, checker, new Map())) return undefined
  return symbol
}

/** A place that runs a class's constructor: a `new` of it or of a descendant without a constructor of its own, or a `super` call. */
export type CreationSite = ts.NewExpression | ts.CallExpression

/** Every place of the project, tests included, that runs the constructor of a class. In order of path and place. */
export function creationSites(node: ts.ClassLikeDeclaration, snapshot: Snapshot): CreationSite[] {
  const { checker } = snapshot
  const symbol = symbolOf(node)
  if (!symbol) return []
  const sites: CreationSite[] = []
  const classes: ts.Symbol[] = [symbol]
  const known = new Set(classes)
  while (classes.length > 0) {
    const current = classes.pop()!
    for (const [file] of snapshot.paths) {
      if (!mentions(file, current.name) && !importsRenamed(file)) continue
      const visit = (at: ts.Node): void => {
        if (ts.isNewExpression(at) && meansSymbol(at.expression, current, checker)) sites.push(at)
        if (ts.isClassLike(at)) {
          const base = at.heritageClauses?.find(clause => clause.token === ts.SyntaxKind.ExtendsKeyword)?.types[0]?.expression
          const own = symbolOf(at)
          if (base && own && meansSymbol(base, current, checker)) {
            const constructor = at.members.find((member): member is ts.ConstructorDeclaration => ts.isConstructorDeclaration(member) && member.body !== undefined)
            if (constructor) sites.push(...superCalls(constructor))
            else if (!known.has(own)) { known.add(own); classes.push(own) }
          }
        }
        ts.forEachChild(at, visit)
      }
      visit(file)
    }
  }
  return sites.sort((a, b) => (a.getSourceFile().fileName < b.getSourceFile().fileName ? -1 : a.getSourceFile().fileName > b.getSourceFile().fileName ? 1 : a.pos - b.pos))
}

export function superCalls(constructor: ts.ConstructorDeclaration): ts.CallExpression[] {
  const found: ts.CallExpression[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && node.expression.kind === ts.SyntaxKind.SuperKeyword) found.push(node)
    if (!ts.isClassLike(node)) ts.forEachChild(node, visit)
  }
  if (constructor.body) visit(constructor.body)
  return found
}
