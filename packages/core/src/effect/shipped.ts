import type { EffectEntry } from './catalogue.js'
import { EffectCatalogue } from './catalogue.js'
import { JAVA_EFFECTS } from './java.js'
import { TYPESCRIPT_EFFECTS } from './typescript.js'

const shipped: Readonly<Record<string, readonly EffectEntry[]>> = { java: JAVA_EFFECTS, typescript: TYPESCRIPT_EFFECTS }
const made = new Map<string, EffectCatalogue>()

/** The catalogue of a language, with a project's own entries after what ships. */
export function catalogueOf(language: string, own: readonly EffectEntry[] = []): EffectCatalogue {
  const key = `${language}:${JSON.stringify(own)}`
  let catalogue = made.get(key)
  if (!catalogue) {
    // Settings change seldom; those of many projects in one process still should not pile up.
    if (made.size > 20) made.clear()
    made.set(key, catalogue = new EffectCatalogue([...(shipped[language] ?? []), ...own]))
  }
  return catalogue
}
