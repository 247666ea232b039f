import ts from 'typescript'
import type { InjectionPoint } from '../../../model/plan.js'
import { memberName, symbolOf, unitMemberName } from '../declarations.js'
import { isInertType } from '../inert.js'
import type { Snapshot } from '../session.js'
import type { FunctionGroup } from './group-functions.js'
import { functionGroups } from './group-functions.js'
import { importsRenamed, meansSymbol, mentions } from './narrow.js'
import { remembered } from './remembered.js'

/** A point with the code behind it. */
export interface FoundPoint {
  readonly told: InjectionPoint
  /** For a creation: the `new`. For an instance: every use of it in the class. For what is fetched: every call that does. */
  readonly nodes: readonly (ts.NewExpression | ts.Identifier | ts.CallExpression)[]
  /** The function or static method that takes the parameter; undefined where a constructor does. */
  readonly target: ts.FunctionLikeDeclaration | undefined
  /** For a class of statics that gives the instance which they call: the interface that it is declared as. */
  readonly replaceable?: ts.InterfaceDeclaration
  /** For functions of a file that stand in a group: that. */
  readonly group?: FunctionGroup
  /** For an object that a static method without arguments gives: the class and the method's name. */
  readonly fetched?: { readonly holder: ts.ClassLikeDeclaration; readonly method: string }
}

/** The places where a class, or the functions of a file, build or fetch collaborators of the project itself, in source order. */
export const findInjectionPoints = remembered((node: ts.ClassLikeDeclaration | ts.SourceFile, snapshot: Snapshot): FoundPoint[] => {
  const type = ts.isSourceFile(node) ? `${snapshot.pathOf(node)}#` : snapshot.declarations.ownerOf(node)!.type
  const numbered = new Numbered()
  if (ts.isSourceFile(node)) return functionsOf(node).flatMap(({ name, target }) => pointsOfFunction(type, name, target, undefined, numbered, snapshot))
  const sites = creationSites(node, snapshot)
  const files = new Set(sites.map(site => site.getSourceFile())).size
  const points: FoundPoint[] = []
  const instances = new Map<ts.Symbol, { uses: ts.Identifier[]; member: ts.ClassElement }>()
  const statics = new Map<ts.ClassLikeDeclaration, { uses: ts.Identifier[]; member: ts.ClassElement; promised: ts.InterfaceDeclaration }>()
  const groups = new Map<FunctionGroup['constant'], { uses: ts.Identifier[]; member: ts.ClassElement; group: FunctionGroup }>()
  const fetches = new Map<string, { uses: ts.CallExpression[]; member: ts.ClassElement; fetched: NonNullable<FoundPoint['fetched']>; collaborator: string }>()
  for (const member of node.members) {
    if (isStatic(member)) {
      if (ts.isMethodDeclaration(member)) points.push(...pointsOfFunction(type, memberName(member), member, node, numbered, snapshot))
      continue
    }
    const visit = (at: ts.Node): void => {
      if (ts.isClassLike(at) || ts.isTypeNode(at)) return
      // A default of a parameter can be given from outside already.
      if (ts.isParameter(at) && ts.isConstructorDeclaration(at.parent)) return
      if (ts.isNewExpression(at)) {
        const created = collaboratorOf(at, snapshot)
        // A constructor that would need an object of its own class could never be called.
        if (created && created.node !== node && !sites.includes(at)) {
          points.push({
            nodes: [at], target: undefined, told: {
              key: numbered.key(`${created.id}@${memberName(member)}`), type, collaborator: created.id, label: created.name, kind: 'creation',
              into: 'constructor', member: memberName(member), line: lineOf(at), edits: sites.length + 3, files: files + 1
            }
          })
        }
      } else if (ts.isCallExpression(at)) {
        const fetched = fetchedObject(at, snapshot)
        if (fetched && fetched.holder !== node) {
          const key = `${snapshot.declarations.ownerOf(fetched.holder)!.type}.${fetched.method}`
          const entry = fetches.get(key) ?? { uses: [], member, fetched, collaborator: fetched.given }
          entry.uses.push(at)
          fetches.set(key, entry)
        }
      } else if (ts.isIdentifier(at) && !(ts.isPropertyAccessExpression(at.parent) && at.parent.name === at)) {
        const replaceable = replaceableStatic(at, snapshot)
        if (replaceable && replaceable.node !== node) {
          const entry = statics.get(replaceable.node) ?? { uses: [], member, promised: replaceable.promised }
          entry.uses.push(at)
          statics.set(replaceable.node, entry)
        }
        const group = groupOf(at, snapshot)
        if (group) {
          const entry = groups.get(group.constant) ?? { uses: [], member, group }
          entry.uses.push(at)
          groups.set(group.constant, entry)
        }
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
      nodes: uses, target: undefined, told: {
        key: `${unit}${name}`, type, collaborator: unit, label: name, kind: 'instance', into: 'constructor', member: memberName(member),
        line: lineOf(uses[0]!), edits: sites.length + uses.length + 1, files: files + 1
      }
    })
  }
  for (const [holder, { uses, member, promised }] of statics) {
    const { type: id } = snapshot.declarations.ownerOf(holder)!
    points.push({
      nodes: uses, target: undefined, replaceable: promised, told: {
        key: id, type, collaborator: id, label: holder.name!.text, kind: 'instance', into: 'constructor', member: memberName(member), line: lineOf(uses[0]!), edits: sites.length + uses.length + 1, files: files + 1
      }
    })
  }
  for (const [constant, { uses, member, group }] of groups) {
    const unit = `${snapshot.pathOf(constant.getSourceFile())}#`
    points.push({
      nodes: uses, target: undefined, group, told: {
        key: unit, type, collaborator: unit, label: constant.name.text, kind: 'instance', into: 'constructor', member: memberName(member), line: lineOf(uses[0]!), edits: sites.length + uses.length + 1, files: files + 1
      }
    })
  }
  for (const [key, { uses, member, fetched, collaborator }] of fetches) {
    points.push({
      nodes: uses, target: undefined, fetched, told: {
        key, type, collaborator, label: `${fetched.holder.name!.text}.${fetched.method}`, kind: 'instance', into: 'constructor', member: memberName(member), line: lineOf(uses[0]!), edits: sites.length + uses.length + 1, files: files + 1
      }
    })
  }
  return points
})

/** Tells equal keys apart by their number in source order. */
class Numbered {
  private readonly times = new Map<string, number>()

  key(base: string): string {
    const times = (this.times.get(base) ?? 0) + 1
    this.times.set(base, times)
    return times === 1 ? base : `${base}~${times}`
  }
}

function isStatic(member: ts.ClassElement): boolean {
  return ts.canHaveModifiers(member) && ts.getModifiers(member)?.some(modifier => modifier.kind === ts.SyntaxKind.StaticKeyword) === true
}

/** The named functions of a file's top level. A constant's declared type would hide a further parameter from callers. */
export function functionsOf(file: ts.SourceFile): { name: string; target: ts.FunctionLikeDeclaration }[] {
  return file.statements.flatMap((statement): { name: string; target: ts.FunctionLikeDeclaration }[] => {
    if (ts.isFunctionDeclaration(statement)) return statement.name && statement.body ? [{ name: statement.name.text, target: statement }] : []
    if (!ts.isVariableStatement(statement)) return []
    return statement.declarationList.declarations.flatMap(({ name, type, initializer }) =>
      ts.isIdentifier(name) && !type && initializer && (ts.isArrowFunction(initializer) || ts.isFunctionExpression(initializer)) ? [{ name: name.text, target: initializer }] : [])
  })
}

/** Creations in a function that can take a last parameter with a default: neither overloaded nor open-ended. */
function pointsOfFunction(
  type: string, member: string, target: ts.FunctionLikeDeclaration, owner: ts.ClassLikeDeclaration | undefined, numbered: Numbered, snapshot: Snapshot
): FoundPoint[] {
  const symbol = ts.isFunctionDeclaration(target) || ts.isMethodDeclaration(target) ? symbolOf(target) : undefined
  const overloaded = (symbol?.declarations?.filter(ts.isFunctionLike).length ?? 0) > 1
  if (!target.body || overloaded || target.parameters.some(parameter => parameter.dotDotDotToken)) return []
  const points: FoundPoint[] = [], groups = new Map<FunctionGroup['constant'], { uses: ts.Identifier[]; group: FunctionGroup }>()
  const visit = (at: ts.Node): void => {
    if (ts.isClassLike(at) || ts.isTypeNode(at)) return
    const group = ts.isIdentifier(at) ? groupOf(at, snapshot) : undefined
    if (group) {
      const entry = groups.get(group.constant) ?? { uses: [], group }
      entry.uses.push(at as ts.Identifier)
      groups.set(group.constant, entry)
    }
    if (ts.isNewExpression(at)) {
      const created = collaboratorOf(at, snapshot)
      const local = created && ts.findAncestor(created.node, one => one === target) !== undefined
      // A class's own static methods that build it are how it wants to be built.
      if (created && created.node !== owner && !local) {
        points.push({
          nodes: [at], target, told: {
            key: numbered.key(`${created.id}@${member}`), type, collaborator: created.id, label: created.name, kind: 'creation', into: 'function', member,
            line: lineOf(at), edits: 2, files: 1
          }
        })
      }
    }
    ts.forEachChild(at, visit)
  }
  visit(target.body)
  for (const [constant, { uses, group }] of groups) {
    const unit = `${snapshot.pathOf(constant.getSourceFile())}#`
    points.push({ nodes: uses, target, group, told: { key: numbered.key(`${unit}@${member}`), type, collaborator: unit, label: constant.name.text, kind: 'instance', into: 'function', member, line: lineOf(uses[0]!), edits: uses.length + 1, files: 1 } })
  }
  return points
}

/** The line on which a node begins, from 1. */
export function lineOf(node: ts.Node): number {
  return node.getSourceFile().getLineAndCharacterOfPosition(node.getStart()).line + 1
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

const groupsOfFile = remembered((file: ts.SourceFile, snapshot: Snapshot) => functionGroups(file, snapshot))

/** The group of the function of another file that a name calls. */
function groupOf(name: ts.Identifier, snapshot: Snapshot): FunctionGroup | undefined {
  if (!ts.isCallExpression(name.parent) || name.parent.expression !== name) return undefined
  const found = snapshot.checker.getSymbolAtLocation(name)
  if (!found || !(found.flags & ts.SymbolFlags.Alias)) return undefined
  const symbol = snapshot.checker.getAliasedSymbol(found), file = symbol.declarations?.[0]?.getSourceFile()
  if (!file || snapshot.pathOf(file) === undefined) return undefined
  return groupsOfFile(file, snapshot).find(one => one.functions.has(symbol))
}

/** The class that a static method is called of, where it gives the instance that the method calls, and the interface of that. */
function replaceableStatic(name: ts.Identifier, snapshot: Snapshot): { readonly node: ts.ClassLikeDeclaration; readonly promised: ts.InterfaceDeclaration } | undefined {
  const { checker } = snapshot
  if (!ts.isPropertyAccessExpression(name.parent) || name.parent.expression !== name || !ts.isCallExpression(name.parent.parent) || name.parent.parent.expression !== name.parent) return undefined
  const found = checker.getSymbolAtLocation(name)
  const symbol = found && found.flags & ts.SymbolFlags.Alias ? checker.getAliasedSymbol(found) : found
  const node = symbol?.declarations?.find(ts.isClassLike)
  if (!node?.name || snapshot.pathOf(node.getSourceFile()) === undefined) return undefined
  const giver = node.members.find(member => isStatic(member) && memberName(member) === 'instance')
  if (!giver || !ts.isMethodDeclaration(giver) || giver.parameters.length > 0 || !giver.type) return undefined
  const given = checker.getTypeAtLocation(giver.type)
  const promised = given.symbol?.declarations?.find(ts.isInterfaceDeclaration)
  return promised && snapshot.declarations.ownerOf(promised) && given.getProperty(name.parent.name.text) ? { node, promised } : undefined
}

/** The class whose static method a call without arguments runs to get an object of the project, and the id of what that is. */
function fetchedObject(call: ts.CallExpression, snapshot: Snapshot): NonNullable<FoundPoint['fetched']> & { readonly given: string } | undefined {
  const { checker } = snapshot
  const { expression } = call
  if (call.arguments.length > 0 || call.typeArguments || !ts.isPropertyAccessExpression(expression) || !ts.isIdentifier(expression.expression) || call.questionDotToken || expression.questionDotToken) return undefined
  const method = checker.getSymbolAtLocation(expression.name)?.declarations?.[0]
  if (!method || !ts.isMethodDeclaration(method) || !isStatic(method) || method.parameters.length > 0 || method.typeParameters || !ts.isClassLike(method.parent) || !method.parent.name) return undefined
  const holder = method.parent
  if (snapshot.pathOf(holder.getSourceFile()) === undefined || !meansSymbol(expression.expression, symbolOf(holder)!, checker)) return undefined
  const type = checker.getTypeAtLocation(call)
  const given = type.symbol?.declarations?.find(at => ts.isClassLike(at) || ts.isInterfaceDeclaration(at))
  const owner = given && snapshot.declarations.ownerOf(given)
  // What a static of many gives to be replaced is handed in itself.
  if (!owner || isInertType(type.symbol, checker, new Map()) || (expression.name.text === 'instance' && ts.isInterfaceDeclaration(given))) return undefined
  // A method that makes a new one is a constructor by another name.
  return makesNew(method) ? undefined : { holder, method: expression.name.text, given: owner.type }
}

function makesNew(method: ts.MethodDeclaration): boolean {
  const [only] = method.body?.statements ?? []
  return method.body?.statements.length === 1 && only !== undefined && ts.isReturnStatement(only) && only.expression !== undefined && ts.isNewExpression(only.expression)
}

/** A place that runs a class's constructor: a `new` of it or of a descendant without a constructor of its own, or a `super` call. */
export type CreationSite = ts.NewExpression | ts.CallExpression

/** Every place of the project, tests included, that runs the constructor of a class. In order of path and place. */
export const creationSites = remembered((node: ts.ClassLikeDeclaration, snapshot: Snapshot): readonly CreationSite[] => {
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
})

export function superCalls(constructor: ts.ConstructorDeclaration): ts.CallExpression[] {
  const found: ts.CallExpression[] = []
  const visit = (node: ts.Node): void => {
    if (ts.isCallExpression(node) && node.expression.kind === ts.SyntaxKind.SuperKeyword) found.push(node)
    if (!ts.isClassLike(node)) ts.forEachChild(node, visit)
  }
  if (constructor.body) visit(constructor.body)
  return found
}
