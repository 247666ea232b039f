import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesFrom, dependenciesOn } from '../survey.js'
import type { LanguageWriter } from '../model/plan.js'
import type { Remedy, RemedyPlace } from './remedy.js'

/** A type, or a function or constant of a file, that stands with those of another module that it works with. */
export const moveTypeRemedy: Remedy = {
  name: 'move-type',
  title: 'Move type',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.kind === 'functions') return type.test ? [] : membersToMove(index, survey, writer)
    if (type.test || type.outermost !== index) return []
    if (!homesOf(index, survey).some(home => writer.canMove(type.id, home.module))) return []
    const users = dependenciesOn(survey, index)
    return [{
      detail: '', title: `Move ${type.name} to another module`,
      edits: users.length + 2, files: new Set(users.map(one => survey.model.types[one.from]!.file)).size + 2
    }]
  },

  choices(subject, member, survey, writer) {
    const index = survey.model.typeIndex.get(subject)!
    const own = survey.model.types[index]!.module
    const homes = movableFirst(subject, member, survey, writer)
    const others = survey.modules.filter(module => module.types > 0 && module.id !== own && !homes.some(home => home.module === module.id)).map(module => module.id)
    return [
      { name: 'module', label: 'Module', kind: 'one-of', value: homes[0]?.module ?? others[0] ?? '', help: 'The first has most to do with it.', options: [
        ...homes.map(({ module, references }) => ({ value: module, label: `${module} (${references} ${references === 1 ? 'reference' : 'references'} to or from it)` })),
        ...others.map(module => ({ value: module, label: module }))
      ] },
      { name: 'newModule', label: 'Or a new one', kind: 'text', value: '', help: 'Left empty, the module above.', options: [] }
    ]
  },

  plan(subject, member, choices, survey, writer) {
    const index = survey.model.typeIndex.get(subject)
    const module = choices.newModule || choices.module || (index === undefined ? undefined : movableFirst(subject, member, survey, writer)[0]?.module)
    if (!module) return planRefused('module', 'Choose the module that it is to stand in.')
    return writer.moveType({ type: subject, member: member === '' ? null : member, module })
  }
}

/** The modules that it has to do with, those first that it can move to. */
function movableFirst(subject: string, member: string, survey: Survey, writer: LanguageWriter): { readonly module: string; readonly references: number }[] {
  const index = survey.model.typeIndex.get(subject)!
  const homes = member === '' ? homesOf(index, survey) : homesOfMember(index, member, survey)
  const open = new Set(homes.filter(home => writer.canMove(subject, home.module, member || undefined)))
  return [...open, ...homes.filter(home => !open.has(home))]
}

/** Other modules that a type uses or that use it, those with most references first. */
export function homesOf(index: number, survey: Survey): { readonly module: string; readonly references: number }[] {
  const { types } = survey.model
  const own = types[index]!.module
  const counts = new Map<string, number>()
  const count = (other: number, references: number): void => {
    const { module, test } = types[other]!
    if (!test && module !== own) counts.set(module, (counts.get(module) ?? 0) + references)
  }
  for (const { from, references } of dependenciesOn(survey, index)) count(from, references.length)
  for (const { to, references } of dependenciesFrom(survey, index)) count(to, references.length)
  return mostFirst(counts)
}

function mostFirst(counts: ReadonlyMap<string, number>): { readonly module: string; readonly references: number }[] {
  return [...counts].map(([module, references]) => ({ module, references })).sort((a, b) => b.references - a.references || (a.module < b.module ? -1 : 1))
}

/** Other modules that one member of a unit uses or that use it, those with most references first. */
function homesOfMember(index: number, member: string, survey: Survey): { readonly module: string; readonly references: number }[] {
  const { references, types } = survey.model, counts = new Map<string, number>()
  const count = (other: number, at: number, name: string): void => {
    if (name === member && !types[other]!.test && references.kind(at) !== 'imports-only') counts.set(types[other]!.module, (counts.get(types[other]!.module) ?? 0) + 1)
  }
  for (const one of dependenciesOn(survey, index)) for (const at of one.references) count(one.from, at, references.member(at))
  for (const one of dependenciesFrom(survey, index)) for (const at of one.references) count(one.to, at, references.inMember(at))
  return mostFirst(counts).filter(one => one.module !== types[index]!.module)
}

/** Members of a unit that have more to do with another module than with their own. */
function membersToMove(index: number, survey: Survey, writer: LanguageWriter): RemedyPlace[] {
  const type = survey.model.types[index]!, { references } = survey.model
  return type.members.filter(one => one.public).flatMap(({ name }): RemedyPlace[] => {
    const [home] = homesOfMember(index, name, survey)
    if (!home || home.references <= tiesAtHome(index, name, survey) || !writer.canMove(type.id, home.module, name)) return []
    const users = dependenciesOn(survey, index).filter(one => one.references.some(at => references.member(at) === name))
    return [{ detail: name, title: `Move ${name} to another module`, edits: users.length + 2, files: new Set(users.map(one => survey.model.types[one.from]!.file)).size + 2 }]
  })
}

/** What the other members of a unit, and of its module, have to do with one member. */
function tiesAtHome(index: number, member: string, survey: Survey): number {
  const { references, types, ownUses } = survey.model, { module } = types[index]!
  const isNear = (other: number) => types[other]!.module === module
  const uses = dependenciesOn(survey, index).filter(one => isNear(one.from)).flatMap(one => one.references.filter(at => references.member(at) === member))
  const used = dependenciesFrom(survey, index).filter(one => isNear(one.to)).flatMap(one => one.references.filter(at => references.inMember(at) === member))
  return uses.length + used.length + ownUses.filter(one => one.type === index && (one.member === member) !== (one.inMember === member)).length
}
