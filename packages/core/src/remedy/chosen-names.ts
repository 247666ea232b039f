import type { Choices } from './remedy.js'

/** The choices of all remedies that become names in the code, or of files and folders. */
const NAMES: ReadonlySet<string> = new Set(['name', 'implementation', 'method', 'newModule', 'module', 'folder'])

/** Characters that no name has, and how each is called. They would end a text in the code, or a line of a diff. */
const FORBIDDEN: readonly (readonly [RegExp, string])[] = [
  [/\0/, 'a NUL character'],
  [/[\n\r\u2028\u2029]/, 'a line break'],
  [/[\u0001-\u001f\u007f-\u009f]/, 'a control character'],
  [/["'`]/, 'a quotation mark'],
  [/\\/, 'a backslash']
]

/** Why one of the chosen names cannot be one, in a sentence; undefined where all can, as far as their characters go. */
export function nameObstacle(choices: Choices): string | undefined {
  for (const [choice, name] of Object.entries(choices)) {
    if (!NAMES.has(choice)) continue
    const found = FORBIDDEN.find(([characters]) => characters.test(name))
    if (found) return `The name ${JSON.stringify(name)} holds ${found[1]}, which no name can have; choose another.`
  }
  return undefined
}
