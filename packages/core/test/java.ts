import { readFileSync } from 'node:fs'
import { createRequire } from 'node:module'
import { gunzipSync } from 'node:zlib'
import { StubIndex } from '@hollowmoor/core/read/classfile/stub-index'
import { OverlayFileSource } from '@hollowmoor/core/read/file-source'
import type { JavaTools } from '@hollowmoor/core/read/java/java-session'
import { JavaLanguage } from '@hollowmoor/core/read/java/write/java-language'
import { JAVA_GRAMMAR } from '@hollowmoor/core/read/java/syntax'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import { Grammar } from '@hollowmoor/core/read/syntax/grammar'
import { measureProject } from '@hollowmoor/core/survey'

export type Files = Record<string, string>

export const JAVA_WASM = createRequire(`${process.cwd()}/package.json`).resolve('@repomix/tree-sitter-wasms/out/tree-sitter-java.wasm')

/** The tools as the application has them: the real grammar, the shipped JDK. */
export const tools: JavaTools = {
  grammar: await Grammar.load(readFileSync(JAVA_WASM), JAVA_GRAMMAR), home: '/nobody',
  jdk: new StubIndex(gunzipSync(readFileSync('packages/core/data/jdk.stubs.gz')).toString())
}

export function javaSource(files: Files, root = '/hm-test'): OverlayFileSource {
  return new OverlayFileSource(new Map(Object.entries(files).map(([path, text]) => [`${root}/${path}`, text])))
}

export function javaLanguage(settings: Partial<ProjectSettings> = {}): JavaLanguage {
  return new JavaLanguage('/hm-test', { ...DEFAULT_SETTINGS, ...settings }, tools)
}

export function readJava(files: Files, settings: Partial<ProjectSettings> = {}) {
  const language = javaLanguage(settings)
  const state = language.read(javaSource(files))
  return { language, state, survey: measureProject(state.facts, settings) }
}

/** References as `From -> To.member kind`, ids without their packages; sorted, without repeats. Externals stand in brackets. */
export function javaReferences(files: Files): string[] {
  const short = (id: string) => id.replace(/^([a-z]\w*\.)+(?=[A-Z])/, '')
  const lines = new Set<string>()
  for (const file of readJava(files).state.facts.files) for (const one of file.references) {
    lines.add(`${short(one.from)} -> ${one.external ? `[${one.to}]` : short(one.to)}${one.member ? `.${one.member}` : ''} ${one.kind}${one.typeOnly ? ' type' : ''}`)
  }
  return [...lines].sort()
}

/** What could not be bound, as `name: reason`. */
export function unboundIn(files: Files): string[] {
  return readJava(files).state.facts.files.flatMap(file => file.unresolved.map(one => `${one.name}: ${one.reason}`))
}
