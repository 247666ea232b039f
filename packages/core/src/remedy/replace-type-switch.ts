import { plural } from '../find/finding.js'
import type { SwitchPlace } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import type { Remedy } from './remedy.js'
import { keyed } from './remedy.js'

const NONE = 'No switch or chain of conditions here has cases that could stand elsewhere. Each has to give back a value, set the same variable or field at its end, or just run, and none may set other fields of the class, call its methods as statements, wait, or leave a loop around it.'

/** A class for each case of a switch, chosen in one place that is handed in (replace conditional with polymorphism, Fowler 1999). */
export const replaceTypeSwitchRemedy: Remedy = {
  name: 'replace-type-switch',
  title: 'Replace the switch',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || (type.kind !== 'class' && type.kind !== 'abstract-class' && type.kind !== 'functions') || !survey.model.typeSwitches.some(one => one.type === index)) return []
    return writer.typeSwitches(type.id).map((one, at, all) => ({
      // The first needs no key.
      detail: at === 0 ? '' : one.key,
      title: titleOf(one, all, type), edits: one.edits, files: one.files
    }))
  },

  titleOf(subject, key, survey, writer) {
    const all = writer.typeSwitches(subject), found = keyed(all, key)
    return found && titleOf(found, all, survey.model.types[survey.model.typeIndex.get(subject)!]!)
  },

  choices(subject, key, survey, writer) {
    const found = keyed(writer.typeSwitches(subject), key)
    return [
      { name: 'name', label: 'Interface', kind: 'text', value: found?.name ?? '', help: found ? `Its classes are for ${found.cases.join(', ')}. ${nextCase(subject, found, survey)}` : '', options: [] },
      ...(found && !found.handed ? [] : [{ name: 'default', label: 'Keep a default', kind: 'yes-no', value: 'yes', help: 'What chooses is handed to the constructor; with a default, creation sites stay as they are.', options: [] } as const])
    ]
  },

  plan(subject, key, choices, survey, writer) {
    const found = keyed(writer.typeSwitches(subject), key)
    if (!found) return planRefused('switch', NONE)
    const outcome = writer.replaceTypeSwitch({ type: subject, place: found.key, name: choices.name || null, withDefault: choices.default !== 'no' })
    return outcome.refused ? outcome : { ...outcome, notes: [nextCase(subject, found, survey), ...outcome.notes] }
  }
}

function titleOf(one: SwitchPlace, all: readonly SwitchPlace[], { kind, name }: { readonly kind: string; readonly name: string }): string {
  return `A class for each of the ${one.cases.length} cases of ${kind === 'functions' ? '' : `${name}.`}${one.member}${told(one, all)}`
}

/** Which of several in one member is meant. */
function told(one: SwitchPlace, all: readonly SwitchPlace[]): string {
  const beside = all.filter(other => other.member === one.member)
  return beside.length === 1 ? '' : beside.filter(other => other.over === one.over).length === 1 ? ` by ${one.over}` : ` by ${one.over}, line ${one.line}`
}

/** How many places another case would touch, before and after. */
function nextCase(subject: string, { over, line }: SwitchPlace, { model }: Survey): string {
  const index = model.typeIndex.get(subject)
  const own = model.typeSwitches.find(one => one.type === index && one.line === line)
  const others = own && own.over !== '' ? model.typeSwitches.filter(one => one !== own && one.over === own.over && !model.types[one.type]!.test).length : 0
  return `Another ${over} touches ${plural(others + 1, 'place')} now; then a class of its own and the line that chooses it${others > 0 ? `, and the ${plural(others, 'other place')} as before` : ''}.`
}
