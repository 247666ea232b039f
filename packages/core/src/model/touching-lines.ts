/** Lines of a method in which something outside is touched. */
export interface TouchingLines {
  readonly lines: readonly number[]
  /** What is touched: `the file system`. */
  readonly what: string
  /** What a class of it is called by, behind the name of the class that it is taken from. */
  readonly stem: string
}
