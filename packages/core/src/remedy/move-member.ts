import type { LanguageWriter, MovableMember } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesFrom } from '../survey.js'
import type { Remedy } from './remedy.js'

/** A method that takes so many members of another class belongs there rather. */
const FEWEST = 2

/** A method, a static one, or a function, in the class of one of its arguments, of which it uses more than of its own. */
export const moveMemberRemedy: Remedy = {
  name: 'move-member',
  offeredWhereWritten: true,
  title: 'Move member',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || (type.kind !== 'class' && type.kind !== 'abstract-class' && type.kind !== 'functions')) return []
    const members = [...new Set(envious(type.id, survey, writer).map(one => one.member))]
    return members.map(member => {
      const [to] = targetsOf(type.id, member, survey, writer)
      return { detail: member, title: `Move ${type.kind === 'functions' ? '' : `${type.name}.`}${member} to ${nameOf(survey, to!.to)}`, edits: 2, files: 2 }
    })
  },

  choices(subject, member, survey, writer) {
    const targets = targetsOf(subject, member, survey, writer)
    return [{ name: 'to', label: 'Class', kind: 'one-of', value: targets[0]?.to ?? '', help: 'Its own class keeps a method that hands on.', options: targets.map(({ to }) => ({ value: to, label: nameOf(survey, to) })) }]
  },

  plan(subject, member, choices, survey, writer) {
    const to = choices.to || targetsOf(subject, member, survey, writer)[0]?.to
    if (to === undefined) return planRefused('target', `${member} takes no object of a class that it could go to.`)
    return writer.moveMember({ type: subject, member, to })
  }
}

/** Where a method could go, first where it uses most. */
function targetsOf(type: string, member: string, survey: Survey, writer: LanguageWriter): MovableMember[] {
  return writer.movableMembers(type).filter(one => one.member === member && mayGoTo(survey, one.to)).sort((a, b) => b.uses - a.uses)
}

/** Methods that use more of another class than of their own, and would not tie modules together in a circle there. */
function envious(type: string, survey: Survey, writer: LanguageWriter): MovableMember[] {
  return writer.movableMembers(type).filter(one => one.uses >= FEWEST && one.uses > one.own && mayGoTo(survey, one.to) && !wouldCircle(type, one, survey))
}

/** Whether the method's new module would depend on one that depends on it, and does not do so by now. */
function wouldCircle(type: string, { member, to }: MovableMember, survey: Survey): boolean {
  const { model } = survey, from = model.typeIndex.get(type)!
  const home = model.types[model.typeIndex.get(to)!]!.module
  const needed = new Set(dependenciesFrom(survey, from).filter(({ references }) => references.some(at => model.references.inMember(at) === member)).map(one => model.types[one.to]!.module))
  const graph = modulesBehind(survey), direct = graph.get(home)
  return [...needed].some(module => module !== home && direct?.has(module) !== true && reaches(graph, module, home))
}

function reaches(graph: ReadonlyMap<string, ReadonlySet<string>>, from: string, to: string): boolean {
  const seen = new Set([from])
  for (const module of seen) for (const next of graph.get(module) ?? []) seen.add(next)
  return seen.has(to)
}

const known = new WeakMap<Survey, ReadonlyMap<string, ReadonlySet<string>>>()

/** The modules that each module's product code depends on directly. */
function modulesBehind(survey: Survey): ReadonlyMap<string, ReadonlySet<string>> {
  const before = known.get(survey)
  if (before) return before
  const { types } = survey.model, graph = new Map<string, Set<string>>()
  for (const { from, to } of survey.dependencies) {
    if (types[from]!.test || types[to]!.test) continue
    const list = graph.get(types[from]!.module)
    if (list) list.add(types[to]!.module)
    else graph.set(types[from]!.module, new Set([types[to]!.module]))
  }
  known.set(survey, graph)
  return graph
}

function mayGoTo({ model }: Survey, id: string): boolean {
  const index = model.typeIndex.get(id)
  return index !== undefined && (model.types[index]!.kind === 'class' || model.types[index]!.kind === 'abstract-class') && !model.types[index]!.test
}

function nameOf({ model }: Survey, id: string): string { return model.types[model.typeIndex.get(id)!]!.name }
