import { outsideOf } from '../effect/kinds.js'
import { planRefused } from '../model/plan.js'
import { dependenciesOn } from '../survey.js'
import type { Remedy } from './remedy.js'

/** Static methods that call an instance behind an interface: callers stay as they are, and a test can let another stand in. */
export const makeStaticReplaceableRemedy: Remedy = {
  name: 'make-static-replaceable',
  offeredWhereWritten: true,
  title: 'Make the static replaceable',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if ((type.kind !== 'class' && type.kind !== 'functions') || type.test || dependenciesOn(survey, index).length === 0) return []
    // Functions that reach nothing outside need nothing to stand in for them.
    if (type.kind === 'functions' && outsideOf(survey.reach.deciding(index)) === 0) return []
    const methods = writer.replaceableMethods(type.id)
    if (methods.length === 0) return []
    if (type.kind === 'functions') return [{ detail: '', title: `Let the functions of ${type.name} be handed in together`, edits: 1, files: 1 }]
    return [{ detail: '', title: `Let ${type.name}'s static methods call an instance that can be replaced`, edits: methods.length + 3, files: 3 }]
  },

  choices(subject, _detail, survey) {
    const name = { name: 'name', label: 'Interface', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] } as const
    if (survey.model.types[survey.model.typeIndex.get(subject) ?? -1]?.kind === 'functions') return [name, { name: 'implementation', label: 'Object of the functions', kind: 'text', value: '', help: 'Left empty, it is named as the interface is.', options: [] }]
    return [
      name,
      { name: 'implementation', label: 'Class that does the work', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] },
      { name: 'swap', label: 'Another stands in', kind: 'one-of', value: 'for-all', help: 'During a call, tests that run at the same time do not see each other\'s. Nothing at a caller says then what it works with: for a library, inject it instead.', options: [
        { value: 'for-all', label: 'for all, until it is put back' }, { value: 'during', label: 'during a call, for what runs in it' }
      ] }
    ]
  },

  plan(subject, _detail, choices, _survey, writer) {
    if (choices.name && choices.name === choices.implementation) return planRefused('name', 'The interface and the class that implements it need two names.')
    return writer.makeReplaceable({ type: subject, name: choices.name || null, implementation: choices.implementation || null, swap: choices.swap === 'during' ? 'during' : 'for-all' })
  }
}
