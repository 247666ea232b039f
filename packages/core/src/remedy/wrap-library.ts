import { planRefused } from '../model/plan.js'
import { HELD } from '../read/write/outside-group.js'
import type { Survey } from '../survey.js'
import type { Remedy } from './remedy.js'

/** Whether a class only does what an abstraction asks for, without anything of its own: then it is what stands in front of the outside. */
function standsInFront(index: number, { model }: Survey): boolean {
  const asked = new Set(model.overrides.filter(one => one.type === index).map(one => one.member))
  const { members } = model.types[index]!
  return asked.size > 0 && members.every(one => one.kind === 'constructor' || (one.kind === 'method' && asked.has(one.name)))
}

/** What a class or, in TypeScript, the functions of a file use of a library, the clock or the disk behind an interface of the project's own, which the class is then handed. */
export const wrapLibraryRemedy: Remedy = {
  name: 'wrap-library',
  offeredWhereWritten: true,
  title: 'Wrap the library',

  offers(index, survey, writer) {
    const type = survey.model.types[index]!
    if ((type.kind !== 'class' && type.kind !== 'abstract-class' && type.kind !== 'functions') || type.test || standsInFront(index, survey)) return []
    return writer.outsideUses(type.id).map(one => ({
      detail: one.key,
      title: `Put what ${type.name} uses of ${one.label} behind ${one.name}`, edits: one.edits, files: one.files
    }))
  },

  choices(subject, detail, survey, writer) {
    const isUnit = survey.model.types[survey.model.typeIndex.get(subject) ?? -1]?.kind === 'functions'
    const found = writer.outsideUses(subject).find(one => one.key === detail)
    return [
      { name: 'name', label: 'Interface', kind: 'text', value: '', help: `Left empty, ${found?.name ?? 'a name'} or, where that is taken, another.${detail.startsWith(HELD) ? '' : ' One that was made for another class is extended.'}`, options: [] },
      { name: 'implementation', label: 'Class in front of it', kind: 'text', value: '', help: `Left empty, ${found?.implementation ?? 'a name'}. It alone uses ${found?.label ?? 'the library'}.`, options: [] },
      { name: 'folder', label: 'Folder', kind: 'text', value: '', help: 'Left empty, a folder of its own at the root of the sources.', options: [] },
      ...(isUnit ? [] : [{ name: 'default', label: 'Keep a default', kind: 'yes-no', value: 'no', help: 'For callers outside the project; creation sites stay as they are.', options: [] } as const])
    ]
  },

  plan(subject, detail, choices, _survey, writer) {
    if (choices.name && choices.name === choices.implementation) return planRefused('name', 'The interface and the class in front of the library need two names.')
    return writer.wrapLibrary({
      type: subject, uses: detail, name: choices.name || null, implementation: choices.implementation || null, folder: choices.folder || null, withDefault: choices.default === 'yes'
    })
  }
}
