import type { DeclaredLines, LineRange, RepeatedSequence } from '../model/repeated-sequence.js'
import { listed } from '../find/finding.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import type { ChoiceField, Remedy } from './remedy.js'
import { keyed } from './remedy.js'

/** One method of a class of its own, or a face of steps, for what several classes do alike over a group of classes. */
export const introduceFacadeRemedy: Remedy = {
  name: 'introduce-facade',
  offeredWhereWritten: true,
  title: 'Introduce facade',
  moves: true,

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.test || type.inert || type.kind === 'functions') return []
    const repeated = writer.repeatedSequences(type.id), shown = writer.showableSequence(type.id)
    return [
      // What saves most needs no key.
      ...repeated.map((one, at) => ({ detail: at === 0 ? '' : one.key, title: `Put ${one.name} before ${listed(one.types.map(id => nameOf(survey, id)))}, for ${placesOf(one)}`, edits: one.edits, files: one.files })),
      ...(shown ? [{ detail: SHOWN, title: `Put a facade before statements of ${type.name} that you show`, edits: shown.edits, files: shown.files }] : [])
    ]
  },

  choices(subject, detail, survey, writer) {
    const isShown = detail === SHOWN, proposed = isShown ? writer.showableSequence(subject) ?? undefined : keyed(writer.repeatedSequences(subject), detail)
    // The lines may become others, and with them what it is called.
    return [
      ...(isShown ? [{ name: 'lines', label: 'Lines', kind: 'lines' as const, value: proposed?.key ?? '', help: 'Statements of one method.', options: lineOptions(writer.declaredLines(subject)) },
        { name: 'others', label: 'Alike elsewhere', kind: 'yes-no' as const, value: 'yes', help: 'What other classes have alike is replaced, too.', options: [] }] : []),
      { name: 'name', label: 'Name of the class', kind: 'text', value: isShown ? '' : proposed?.name ?? '', help: 'Left empty, a free name is proposed.', options: [] },
      { name: 'method', label: 'Name of its method', kind: 'text', value: isShown ? '' : proposed?.method ?? '', help: isShown ? 'Left empty, it is called by what it calls last.' : proposed ? `It does the ${proposed.statements} statements of ${placesOf(proposed)}.` : '', options: [] },
      { name: 'face', label: 'How it is called', kind: 'one-of', value: 'call', help: 'Step by step every argument has its name where it is said, and what has a usual value can be left out.', options: [{ value: 'call', label: 'in one call' }, { value: 'steps', label: proposed?.many && !isShown ? 'step by step, as it takes so much' : 'step by step' }] },
      ...(proposed?.keepsNothing || isShown ? [{ name: 'default', label: 'Keep a default', kind: 'yes-no' as const, value: 'yes', help: isShown ? 'Where it keeps nothing, creation sites stay as they are with a default.' : 'It keeps nothing and is handed to constructors; with a default, creation sites stay as they are.', options: [] }] : [])
    ]
  },

  plan(subject, detail, choices, _survey, writer) {
    const lines = detail === SHOWN ? choices.lines || writer.showableSequence(subject)?.key || '' : null, range = lines === null ? null : linesOf(lines)
    if (lines !== null && !range) return planRefused('lines', lines === '' ? 'No statements of a method could stand behind one call by themselves; show some by their lines, as 12-18.' : `${lines} are no lines; they are told as 12-18.`)
    const found = range ? { key: { ...range, holds: choices.holds || null, others: choices.others !== 'no' } } : keyed(writer.repeatedSequences(subject), detail)
    if (choices.face && choices.face !== 'call' && choices.face !== 'steps') return planRefused('face', 'A facade is told all in one call, or step by step.')
    if (!found) return planRefused('sequence', 'No statements over it are alike in several classes any more.')
    return writer.introduceFacade({ type: subject, sequence: found.key, name: choices.name || null, method: choices.method || null, face: choices.face === 'steps' ? 'steps' : 'call', withDefault: choices.default !== 'no' })
  }
}

/** Detail of what is shown by its lines. */
const SHOWN = 'shown'

function lineOptions(declared: DeclaredLines | null): ChoiceField['options'] {
  return declared?.lines.map((label, at) => ({ value: String(declared.from + at), label })) ?? []
}

function linesOf(text: string): LineRange | null {
  const [, from, to] = /^\s*(\d+)\s*[-–]\s*(\d+)\s*$/.exec(text) ?? []
  return from !== undefined && Number(from) <= Number(to) ? { from: Number(from), to: Number(to) } : null
}

/** `PassageDesk.settle and TollWindow.sellReturn`. */
function placesOf({ places }: RepeatedSequence): string {
  return listed([...new Set(places)].map(place => place.slice(Math.max(place.lastIndexOf('#'), place.lastIndexOf('.', place.lastIndexOf('.') - 1)) + 1)))
}

function nameOf({ model }: Survey, id: string): string { return model.types[model.typeIndex.get(id)!]?.name ?? id }
