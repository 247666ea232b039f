/** What a test sets up for one object of a class. */
export interface TestSetUp {
  readonly lines: number
  /** Objects of the project's classes that it builds on the way. */
  readonly realObjects: number
}

/** A test of a class that is there already: where its first line stands, and what it sets up. */
export interface OldTest {
  readonly path: string
  readonly line: number
  readonly text: readonly string[]
  readonly old: TestSetUp
}

/** An old test of a class beside a new one. */
export interface TestBeside extends OldTest {
  readonly newPath: string
  readonly new: TestSetUp & { readonly doubles: number }
}
