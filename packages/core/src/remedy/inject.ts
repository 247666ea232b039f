import { planRefused } from '../model/plan.js'
import type { Remedy } from './remedy.js'

/**
 * A collaborator that is built or fetched inside becomes a constructor parameter, or what builds it does. Functions and
 * static methods take it as their last parameter, with what they build today as its default.
 */
export const injectRemedy: Remedy = {
  name: 'inject',
  offeredWhereWritten: true,
  title: 'Inject',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if ((type.kind !== 'class' && type.kind !== 'abstract-class' && type.kind !== 'functions') || type.test) return []
    return writer.injectionPoints(type.id).map(point => ({
      detail: point.key,
      title: point.into === 'function' ? `Hand ${point.label} to ${type.kind === 'functions' ? '' : `${type.name}.`}${point.member}` : point.kind === 'instance' ? `Hand ${point.label} to ${type.name}` : `Hand ${point.label} to ${type.name} (built in ${point.member})`,
      edits: point.edits, files: point.files
    }))
  },

  choices(subject, detail, survey, writer) {
    const point = writer.injectionPoints(subject).find(one => one.key === detail)
    const collaborator = point && survey.model.typeIndex.get(point.collaborator)
    const interfaces = survey.dependencies.filter(one => one.from === collaborator && one.references.some(at => survey.model.references.kind(at) === 'implements'))
      .map(one => survey.model.types[one.to]!)
    return [
      { name: 'name', label: 'Parameter', kind: 'text', value: '', help: 'Left empty, a free name is proposed.', options: [] },
      { name: 'as', label: 'Declared as', kind: 'one-of', value: 'narrowest', help: 'An interface lets a double stand in.', options: [
        { value: 'narrowest', label: 'the narrowest that serves' }, ...interfaces.map(type => ({ value: type.id, label: type.name }))
      ] },
      ...(point?.into === 'function' ? [] : [{ name: 'default', label: 'Keep a default', kind: 'yes-no', value: 'no', help: 'For callers outside the project; creation sites stay as they are.', options: [] } as const,
      { name: 'levels', label: 'Pass it on from further up', kind: 'one-of', value: '0', help: 'Where a creation site runs once, in a constructor.', options: ['0', '1', '2', '3'].map(value => ({ value, label: value === '0' ? 'build it at each site' : `up to ${value} level${value === '1' ? '' : 's'}` })) } as const])
    ]
  },

  plan(subject, detail, choices, survey, writer) {
    const levels = Number(choices.levels ?? '0')
    if (!Number.isInteger(levels) || levels < 0 || levels > 9) return planRefused('levels', 'The number of levels is a whole number from 0 to 9.')
    if (choices.name && !/^[A-Za-z_$][\w$]*$/.test(choices.name)) return planRefused('name', `${choices.name} is not a name that a parameter can have.`)
    const as = choices.as && choices.as !== 'narrowest' ? choices.as : null
    if (as !== null && !survey.model.typeIndex.has(as)) return planRefused('as', `${as} is no type of the project.`)
    return writer.inject({ type: subject, point: detail, name: choices.name || null, as, withDefault: choices.default === 'yes', levels })
  }
}
