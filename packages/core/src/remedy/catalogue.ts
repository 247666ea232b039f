import type { LanguageWriter, StepOutcome } from '../model/plan.js'
import { planRefused } from '../model/plan.js'
import type { Survey } from '../survey.js'
import { builderForTestsRemedy } from './builder-for-tests.js'
import { nameObstacle } from './chosen-names.js'
import { composeObjectGraphRemedy } from './compose-object-graph.js'
import { extractClassRemedy } from './extract-class.js'
import { extractInterfaceRemedy } from './extract-interface.js'
import { extractPlainClassRemedy } from './extract-plain-class.js'
import { groupArgumentsRemedy } from './group-arguments.js'
import { startImplementationRemedy, testDoubleRemedy } from './implement-interface.js'
import { injectRemedy } from './inject.js'
import { introduceFacadeRemedy } from './introduce-facade.js'
import { makeStaticReplaceableRemedy } from './make-static-replaceable.js'
import { moveMemberRemedy } from './move-member.js'
import { moveTypeRemedy } from './move-type.js'
import type { ChoiceField, Choices, Remedy, RemedyOffer } from './remedy.js'
import { replaceTypeSwitchRemedy } from './replace-type-switch.js'
import { retireStaticFaceRemedy } from './retire-static-face.js'
import { sharedInterfaceRemedy } from './shared-interface.js'
import { splitInterfaceRemedy } from './split-interface.js'
import { textBuiltNotes } from './text-built.js'
import { wrapLibraryRemedy } from './wrap-library.js'
import { writeFirstTestRemedy } from './write-first-test.js'

/** Every remedy that exists. */
export const REMEDIES: readonly Remedy[] = [extractInterfaceRemedy, sharedInterfaceRemedy, splitInterfaceRemedy, makeStaticReplaceableRemedy, extractClassRemedy, extractPlainClassRemedy, replaceTypeSwitchRemedy, injectRemedy, wrapLibraryRemedy, groupArgumentsRemedy, introduceFacadeRemedy, builderForTestsRemedy, startImplementationRemedy, testDoubleRemedy, moveMemberRemedy, moveTypeRemedy, composeObjectGraphRemedy, retireStaticFaceRemedy, writeFirstTestRemedy]

/** What could be done in a project, or to one type of it, or by one remedy, ordered by type and remedy. */
export function offersOf(survey: Survey, writer: LanguageWriter, type?: string, remedy?: string): RemedyOffer[] {
  const types = type === undefined ? survey.model.types : survey.model.types.filter(one => one.id === type)
  const remedies = remedy === undefined ? REMEDIES : REMEDIES.filter(one => one.name === remedy)
  const { sketch } = writer
  return types.flatMap(one => remedies.flatMap(remedy => remedy.offers(one.index, survey, writer).flatMap(({ detail, title, edits, files }): RemedyOffer[] => {
    const offer = { id: `${remedy.name}:${one.id}${detail === '' ? '' : `:${detail}`}`, remedy: remedy.name, subject: one.id, title, edits, files }
    if (!sketch || !remedy.offeredWhereWritten) return [offer]
    const written = remedy.plan(one.id, detail, {}, survey, sketch)
    return written.refused ? [] : [{ ...offer, edits: written.edits, files: written.changes.length }]
  })))
}

interface ParsedId { remedy: Remedy; subject: string; detail: string }

/** A remedy id taken apart: `name:type` or `name:type:detail`, where the type's id itself may hold no colon. */
export function parseRemedyId(id: string, survey: Survey): ParsedId | undefined {
  const remedy = REMEDIES.find(one => id.startsWith(`${one.name}:`))
  if (!remedy) return undefined
  const rest = id.slice(remedy.name.length + 1)
  if (survey.model.typeIndex.has(rest)) return { remedy, subject: rest, detail: '' }
  for (let at = rest.indexOf(':'); at >= 0; at = rest.indexOf(':', at + 1)) {
    if (survey.model.typeIndex.has(rest.slice(0, at))) return { remedy, subject: rest.slice(0, at), detail: rest.slice(at + 1) }
  }
  return undefined
}

export function choicesOf(id: string, survey: Survey, writer: LanguageWriter): ChoiceField[] | undefined {
  const parsed = parseRemedyId(id, survey)
  return parsed?.remedy.choices(parsed.subject, parsed.detail, survey, writer)
}

/** Plans one step. The survey is of the state that the writer stands at. */
export function planStep(id: string, choices: Choices, survey: Survey, writer: LanguageWriter): StepOutcome {
  const parsed = parseRemedyId(id, survey)
  if (!parsed) return planRefused('unknown', `There is no remedy ${id} here; the code may have changed since it was listed.`)
  const badName = nameObstacle(choices)
  if (badName !== undefined) return planRefused('name', badName)
  const outcome = parsed.remedy.plan(parsed.subject, parsed.detail, choices, survey, writer)
  return outcome.refused || !parsed.remedy.moves ? outcome : { ...outcome, notes: [...outcome.notes, ...textBuiltNotes(outcome.changes)] }
}
