import type { ImplementInterfacePlan } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { ChoiceField, Remedy } from './remedy.js'

const NAME: ChoiceField = { name: 'name', label: 'Class', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] }

/** Another implementation of an interface, begun: each member says that it is not written yet. */
export const startImplementationRemedy: Remedy = {
  name: 'start-implementation',
  title: 'Start another implementation',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.kind !== 'interface' || type.test || writer.membersToImplement(type.id).length === 0) return []
    return [{ detail: '', title: `Start another implementation of ${type.name}`, edits: 1, files: 1 }]
  },

  choices() { return [NAME] },

  plan(subject, _detail, choices, _survey, writer) { return writer.implementInterface({ type: subject, as: 'implementation', name: choices.name || null }) }
}

/** A stub, a spy or a fake for an interface, for tests. */
export const testDoubleRemedy: Remedy = {
  name: 'test-double',
  title: 'Write a double for tests',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.kind !== 'interface' || type.test || type.inert || writer.membersToImplement(type.id).length === 0) return []
    return [{ detail: '', title: `Write a double of ${type.name} for tests`, edits: 1, files: 1 }]
  },

  choices() {
    return [
      { name: 'as', label: 'Kind', kind: 'one-of', value: 'spy', help: '', options: [{ value: 'spy', label: 'spy: answers, and keeps every call' }, { value: 'stub', label: 'stub: answers what it is told' }, { value: 'fake', label: 'fake: keeps what it is given, and gives it back' }] },
      NAME
    ]
  },

  plan(subject, _detail, choices, _survey, writer) {
    const as = (choices.as ?? 'spy') as ImplementInterfacePlan['as']
    if (as !== 'stub' && as !== 'spy' && as !== 'fake') return planRefused('as', `${as} is no kind of double; choose stub, spy or fake.`)
    return writer.implementInterface({ type: subject, as, name: choices.name || null })
  }
}
