import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesFrom, dependenciesOn } from '../survey.js'
import type { Remedy } from './remedy.js'

/** A type that stands with those of another module that it works with. */
export const moveTypeRemedy: Remedy = {
  name: 'move-type',
  title: 'Move type',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || type.outermost !== index || type.kind === 'functions') return []
    const [home] = homesOf(index, survey)
    if (!home || !writer.canMove(type.id, home.module)) return []
    const users = dependenciesOn(survey, index)
    return [{
      detail: '', title: `Move ${type.name} to another module`,
      edits: users.length + 2, files: new Set(users.map(one => survey.model.types[one.from]!.file)).size + 2
    }]
  },

  choices(subject, _detail, survey) {
    const index = survey.model.typeIndex.get(subject)!
    const own = survey.model.types[index]!.module
    const homes = homesOf(index, survey)
    const others = survey.modules.filter(module => module.types > 0 && module.id !== own && !homes.some(home => home.module === module.id)).map(module => module.id)
    return [
      { name: 'module', label: 'Module', kind: 'one-of', value: homes[0]?.module ?? others[0] ?? '', help: 'The first has most to do with it.', options: [
        ...homes.map(({ module, references }) => ({ value: module, label: `${module} (${references} ${references === 1 ? 'reference' : 'references'} to or from it)` })),
        ...others.map(module => ({ value: module, label: module }))
      ] },
      { name: 'newModule', label: 'Or a new one', kind: 'text', value: '', help: 'Left empty, the module above.', options: [] }
    ]
  },

  plan(subject, _detail, choices, survey, writer) {
    const index = survey.model.typeIndex.get(subject)
    const module = choices.newModule || choices.module || (index === undefined ? undefined : homesOf(index, survey)[0]?.module)
    if (!module) return planRefused('module', 'Choose the module that it is to stand in.')
    return writer.moveType({ type: subject, module })
  }
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
  return [...counts].map(([module, references]) => ({ module, references })).sort((a, b) => b.references - a.references || (a.module < b.module ? -1 : 1))
}
