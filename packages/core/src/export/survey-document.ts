import { cohesionOf } from '../measure/cohesion.js'
import type { Cycle } from '../measure/cycles.js'
import { JOINT_KINDS } from '../measure/joints.js'
import { pathLines } from '../measure/places.js'
import { setupOf } from '../measure/setup-tree.js'
import { findingsOf } from '../find/findings.js'
import type { Survey } from '../survey.js'

/** Places of one finding that the document tells; its cost counts all. */
const EVIDENCE = 100

/**
 * The survey document, version 1, piece by piece: joined, the pieces are one JSON text. Streamed, because the
 * references of a large project do not fit into one string. The same survey gives the same bytes.
 */
export function* surveyDocumentPieces(survey: Survey): Generator<string> {
  const { model } = survey
  const { types, files, references } = model
  const languages = [...new Set(files.map(file => file.language))].sort()
  const counts = {
    files: files.length, testFiles: files.filter(file => file.test).length, unreadFiles: survey.unreadFiles.length,
    lines: files.reduce((sum, file) => sum + file.lines, 0), modules: survey.modules.length, types: types.length,
    members: types.reduce((sum, type) => sum + type.members.length, 0), references: references.length, unresolved: model.unresolved.length
  }
  yield `{"format":"hollowmoor-survey","version":1,"languages":${JSON.stringify(languages)},"counts":${JSON.stringify(counts)}`
  yield* list('modules', survey.modules, module => module)
  yield* list('types', types, type => {
    const joints = { welded: 0, bolted: 0, plugged: 0, inert: 0 }
    for (const kind of JOINT_KINDS) joints[kind] = survey.joints[type.index]!.filter(joint => joint.kind === kind).length
    const { lcom4, tcc } = cohesionOf(model, type.index)
    const verdict = survey.verdicts[type.index]
    const effects = type.test ? [] : survey.reach.effectsOf(type.index)
    return {
      id: type.id, name: type.name, kind: type.kind, module: type.module, file: files[type.file]!.path, line: type.line,
      lines: type.lines, test: type.test, fanIn: survey.fanIn[type.index], fanOut: survey.fanOut[type.index], joints,
      ...(verdict ? { verdict } : {}),
      ...(effects.length > 0 ? { effects: effects.map(effect => ({ kind: effect.kind, path: pathLines(model, effect).map(line => ({ type: types[line.type]!.id, member: line.member, file: files[line.file]!.path, line: line.line, column: line.column })) })) } : {}),
      ...(verdict && type.kind !== 'functions' ? { realObjects: setupOf(model, type.index).realObjects } : {}),
      ...(lcom4 === null ? {} : { lcom4 }), ...(tcc === null ? {} : { tcc })
    }
  })
  yield* list('dependencies', survey.dependencies, dependency => ({
    from: types[dependency.from]!.id, to: types[dependency.to]!.id,
    references: dependency.references.map(index => {
      const { file, line, column, kind, member, typeOnly } = references.at(index)
      return { file: files[file]!.path, line, column, kind, member, typeOnly }
    })
  }))
  const externals = new Map<string, number>()
  for (let index = 0; index < references.length; index++) {
    if (references.to(index) >= 0) continue
    const name = references.at(index).external
    externals.set(name, (externals.get(name) ?? 0) + 1)
  }
  yield* list('externals', [...externals].sort((a, b) => (a[0] < b[0] ? -1 : 1)), ([name, count]) => ({ name, references: count }))
  yield* list('moduleCycles', survey.moduleCycles, cycleEntry)
  yield* list('fileCycles', survey.fileCycles, cycleEntry)
  yield* list('typeCycles', survey.typeCycles, cycleEntry)
  yield* list('findings', findingsOf(survey), ({ kind, subject, sentence, evidence, remedies, cost, frees }) => ({
    kind, subject, sentence, evidence: evidence.slice(0, EVIDENCE).map(({ file, line, column, what }) => ({ file: files[file]!.path, line, column, what })), remedies, cost, frees
  }))
  yield* list('unresolved', model.unresolved, ({ file, line, column, name, reason }) => ({ file: files[file]!.path, line, column, name, reason }))
  yield* list('problems', model.problems, ({ file, line, message }) => ({ file, line, message }))
  yield '}\n'
}

function* list<T>(name: string, items: readonly T[], entry: (item: T) => unknown): Generator<string> {
  let piece = `,"${name}":[`
  for (let at = 0; at < items.length; at++) {
    piece += (at === 0 ? '' : ',') + JSON.stringify(entry(items[at]!))
    if (piece.length > 60_000) { yield piece; piece = '' }
  }
  yield `${piece}]`
}

function cycleEntry(cycle: Cycle) {
  return {
    within: cycle.within, members: cycle.members, atRunTime: cycle.atRunTime,
    cut: {
      dependencies: cycle.cut.dependencies.map(({ from, to }) => ({ from, to })),
      references: cycle.cut.references, lowerBound: cycle.cut.lowerBound
    }
  }
}
