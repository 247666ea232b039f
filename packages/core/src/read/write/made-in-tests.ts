import { withArticle } from './names.js'

/** What an object that a test makes itself is made of: the place of an argument, or a text that says what it is. */
export type MadeOf = number | string

/** What is told of the tests that make objects of a new class themselves. `counts`: how many, by test file. */
export function toldOfTests(counts: ReadonlyMap<string, number>, name: string): string[] {
  return [...counts].map(([test, count]) => `${test} makes ${withArticle(name)} itself${count === 1 ? '' : `, ${count} times`}, where it only asks for what goes.`)
}
