import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import { OverlayFileSource } from '@hollowmoor/core/read/file-source'
import { TypeScriptSession } from '@hollowmoor/core/read/typescript/session'
import { typeScriptWriter } from '@hollowmoor/core/read/typescript/write/writer'
import { measureProject } from '@hollowmoor/core/survey'
import { surveyDocumentPieces } from '@hollowmoor/core/export/survey-document'
import { DiskSource } from '@hollowmoor/host/disk-source'
import { LIBRARY_FOLDER } from '@hollowmoor/host/project-folder'

const disk = new DiskSource()
const TSCONFIG = JSON.stringify({ compilerOptions: { strict: true, target: 'ES2022', module: 'ESNext', moduleResolution: 'Bundler', types: [], lib: ['ES2022', 'DOM'] } })

export type Files = Record<string, string>

/** A project in memory, under a folder that does not exist; the language's own library is the real one. */
export function sourceOf(files: Files, root = '/hm-test'): OverlayFileSource {
  const all = { 'tsconfig.json': TSCONFIG, ...files }
  return new OverlayFileSource(new Map(Object.entries(all).map(([path, text]) => [`${root}/${path}`, text])), disk)
}

export function readProject(files: Files, settings: Partial<ProjectSettings> = {}) {
  const session = new TypeScriptSession('/hm-test', { ...DEFAULT_SETTINGS, ...settings }, LIBRARY_FOLDER)
  const snapshot = session.read(sourceOf(files))
  const survey = measureProject(snapshot.facts, settings)
  return { session, snapshot, survey, writer: typeScriptWriter(session, snapshot) }
}

/** References as `from -> to.member kind`, with `type` behind those that the compiler erases; sorted, without repeats. */
export function referencesOf(files: Files, settings: Partial<ProjectSettings> = {}): string[] {
  const { model } = readProject(files, settings).survey
  const lines = new Set<string>()
  for (let at = 0; at < model.references.length; at++) {
    const one = model.references.at(at)
    if (one.to < 0) continue
    lines.add(`${model.types[one.from]!.id} -> ${model.types[one.to]!.id}${one.member ? `.${one.member}` : ''} ${one.kind}${one.typeOnly ? ' type' : ''}`)
  }
  return [...lines].sort()
}

export function documentText(survey: ReturnType<typeof measureProject>): string {
  return [...surveyDocumentPieces(survey)].join('')
}
