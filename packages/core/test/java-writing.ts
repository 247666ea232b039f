import type { ExtractInterfacePlan, InjectPlan, StepOutcome } from '@hollowmoor/core/model/plan'
import type { Files } from './java.js'
import { javaLanguage, javaSource } from './java.js'

/** Does one remedy to files in memory; `point`: of an injection, whose key begins with it. */
export function applyJava(files: Files, remedy: 'extract' | 'inject', type: string, choices: Partial<ExtractInterfacePlan & InjectPlan> = {}) {
  const language = javaLanguage()
  const state = language.read(javaSource(files))
  const writer = language.writer(state)
  let outcome: StepOutcome
  if (remedy === 'extract') outcome = writer.extractInterface({ type, members: null, name: null, place: 'own-file', client: null, narrow: true, ...choices })
  else {
    const point = writer.injectionPoints(type).find(one => one.key.startsWith(choices.point ?? ''))
    outcome = writer.inject({ type, name: null, as: null, withDefault: false, levels: 0, ...choices, point: point?.key ?? choices.point ?? '' })
  }
  const changes = new Map(outcome.refused ? [] : outcome.changes.map(change => [change.path, change]))
  return {
    outcome, writer, state,
    refused: outcome.refused ? outcome.reason : null, message: outcome.refused ? outcome.message : '', notes: outcome.refused ? [] : outcome.notes,
    /** A file as it is afterwards. */
    text(path: string): string {
      if (outcome.refused) throw new Error(`refused: ${outcome.reason}: ${outcome.message}`)
      return changes.get(path)?.after ?? files[path] ?? ''
    },
    /** Lines that are gone and lines that are new, in order. */
    diffs(path: string): string[] {
      if (outcome.refused) throw new Error(`refused: ${outcome.reason}: ${outcome.message}`)
      const before = (files[path] ?? '').split('\n'), after = (changes.get(path)?.after ?? '').split('\n')
      return lineDifferences(before, after)
    }
  }
}

function lineDifferences(a: readonly string[], b: readonly string[]): string[] {
  const longest = Array.from({ length: a.length + 1 }, () => new Array<number>(b.length + 1).fill(0))
  for (let i = a.length - 1; i >= 0; i--) for (let j = b.length - 1; j >= 0; j--) longest[i]![j] = a[i] === b[j] ? longest[i + 1]![j + 1]! + 1 : Math.max(longest[i + 1]![j]!, longest[i]![j + 1]!)
  const lines: string[] = []
  let i = 0, j = 0
  while (i < a.length || j < b.length) {
    if (i < a.length && j < b.length && a[i] === b[j]) { i++; j++ }
    else if (i < a.length && (j >= b.length || longest[i + 1]![j]! >= longest[i]![j + 1]!)) lines.push(`-${a[i++]}`)
    else lines.push(`+${b[j++]}`)
  }
  return lines
}
