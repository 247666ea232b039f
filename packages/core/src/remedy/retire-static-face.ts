import { listed, plural } from '../find/finding.js'
import type { LanguageWriter } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'
import type { Remedy } from './remedy.js'

/** The last step of making a static replaceable: once everybody is handed the instance, the static methods that call it go. */
export const retireStaticFaceRemedy: Remedy = {
  name: 'retire-static-face',
  title: 'Let the static face go',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if (type.kind !== 'class' || type.test) return []
    const { faces, called, swaps } = standing(type.id, survey, writer)
    if (faces.length === 0 || called.length > 0) return []
    return [{ detail: '', title: `Let ${type.name}'s static methods go, which nobody calls any more`, edits: faces.length + swaps.length, files: 1 }]
  },

  choices() { return [] },

  plan(subject, _detail, _choices, survey, writer) {
    const { faces, called, swaps } = standing(subject, survey, writer)
    if (faces.length === 0) return planRefused('no-members', 'It has no static methods that only call an instance.')
    if (called.length > 0) return planRefused('called', `${plural(called.length, 'class', 'classes')} still ${called.length === 1 ? 'calls' : 'call'} them: ${listed(called)}. Hand the instance to ${called.length === 1 ? 'it' : 'them'} first.`)
    const outcome = writer.retireStaticFace({ type: subject, members: [...faces, ...swaps] })
    return outcome.refused ? outcome : { ...outcome, notes: ['Who calls them from outside of this project cannot be seen here.', ...outcome.notes] }
  }
}

/** The static methods of a class that only call its instance, who calls them, and those to let another stand in that nobody calls. */
function standing(type: string, survey: Survey, writer: LanguageWriter): { readonly faces: string[]; readonly called: string[]; readonly swaps: string[] } {
  const all = writer.staticFaces(type), { model } = survey, index = model.typeIndex.get(type)!
  if (all.length === 0) return { faces: [], called: [], swaps: [] }
  const faces = all.filter(one => one.kind === 'face').map(one => one.member)
  const callers = new Map<string, Set<string>>()
  for (const dependency of dependenciesOn(survey, index)) for (const at of dependency.references) {
    const { member } = model.references.at(at)
    if (member) callers.set(member, (callers.get(member) ?? new Set()).add(model.types[dependency.from]!.name))
  }
  // What the class itself does by them, beside handing on.
  for (const { type: owner, member, inMember } of model.ownUses) if (owner === index && inMember !== member) callers.set(member, (callers.get(member) ?? new Set()).add(model.types[index]!.name))
  return { faces, called: [...new Set(faces.flatMap(member => [...callers.get(member) ?? []]))], swaps: all.filter(one => one.kind === 'swap' && !callers.has(one.member)).map(one => one.member) }
}
