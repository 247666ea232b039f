import type { TestBeside } from '../../model/test-beside.js'

/** What is told of a test that holds what a class does. */
export function toldOfFirstTest(name: string, held: number, leftOut: readonly string[], beside: TestBeside | undefined): string[] {
  return [
    `It holds ${held === 1 ? 'one thing' : `${held} things`} that ${name} does now, as seen by running it: read whether that is what it should do.`,
    ...(leftOut.length > 0 ? [`Left out: ${leftOut.join('; ')}.`] : []),
    ...(beside ? [`${beside.path} sets up ${count(beside.old.lines, 'line')} and ${count(beside.old.realObjects, 'real object')} for one; this, ${count(beside.new.lines, 'line')}, ${count(beside.new.realObjects, 'real object')} and ${count(beside.new.doubles, 'double')}.`] : [])
  ]
}

function count(number: number, word: string): string { return `${number === 0 ? 'no' : number} ${word}${number === 1 ? '' : 's'}` }
