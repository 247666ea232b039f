import { listed } from '../find/finding.js'
import type { LanguageWriter } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { dependenciesOn } from '../survey.js'
import type { Remedy } from './remedy.js'

/**
 * The last step of making a static replaceable: once everybody is handed the instance, the static methods that call it go; functions of
 * a file are not exported any more but in the object that is handed in.
 */
export const retireStaticFaceRemedy: Remedy = {
  name: 'retire-static-face',
  title: 'Let the static face go',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if ((type.kind !== 'class' && type.kind !== 'functions') || type.test) return []
    const { faces, called, swaps } = standing(type.id, survey, writer)
    if (faces.length === 0 || called.length > 0) return []
    if (type.kind === 'functions') return [{ detail: '', title: `Let the functions of ${type.name} be had only together, for nobody imports one by itself any more`, edits: faces.length, files: 1 }]
    return [{ detail: '', title: `Let ${type.name}'s static methods go, which nobody calls any more`, edits: faces.length + swaps.length, files: 1 }]
  },

  choices() { return [] },

  plan(subject, _detail, _choices, survey, writer) {
    const { faces, called, swaps } = standing(subject, survey, writer)
    if (faces.length === 0) return planRefused('no-members', 'It has no static methods that only call an instance, and no functions that are handed in together and exported one by one.')
    if (called.length > 0) return planRefused('called', `${listed(called)} still ${called.length === 1 ? 'calls' : 'call'} them; hand ${called.length === 1 ? 'it' : 'them'} the instance first.`)
    const outcome = writer.retireStaticFace({ type: subject, members: [...faces, ...swaps] })
    return outcome.refused ? outcome : { ...outcome, notes: ['Who calls them from outside of this project cannot be seen here.', ...outcome.notes] }
  }
}

/** What only stands for the instance of a type, who calls that, and what lets another stand in and nobody calls. */
function standing(type: string, survey: Survey, writer: LanguageWriter): { readonly faces: string[]; readonly called: string[]; readonly swaps: string[] } {
  const all = writer.staticFaces(type), { model } = survey, index = model.typeIndex.get(type)!
  if (all.length === 0) return { faces: [], called: [], swaps: [] }
  const faces = all.filter(one => one.kind === 'face').map(one => one.member)
  const isUnit = model.types[index]!.kind === 'functions'
  const callers = new Map<string, Set<string>>()
  for (const dependency of dependenciesOn(survey, index)) for (const at of dependency.references) {
    // What stands in the file of a function needs no export of it.
    if (isUnit && model.types[dependency.from]!.file === model.types[index]!.file) continue
    const { member } = model.references.at(at)
    if (member) callers.set(member, (callers.get(member) ?? new Set()).add(model.types[dependency.from]!.name))
  }
  // What the class itself does by them, beside handing on.
  for (const { type: owner, member, inMember } of model.ownUses) if (!isUnit && owner === index && inMember !== member) callers.set(member, (callers.get(member) ?? new Set()).add(model.types[index]!.name))
  return { faces, called: [...new Set(faces.flatMap(member => [...callers.get(member) ?? []]))], swaps: all.filter(one => one.kind === 'swap' && !callers.has(one.member)).map(one => one.member) }
}
