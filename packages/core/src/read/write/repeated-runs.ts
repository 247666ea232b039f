/** A statement of a block, and the types that it calls. `block`: the same object for all statements of one. */
export interface RunAnchor<Block, Statement> {
  readonly block: Block
  readonly statements: readonly Statement[]
  readonly at: number
  readonly types: ReadonlySet<string>
}

/** What statements call and build. */
export interface Called {
  /** Ids of the project's types, in the order in which they come. */
  readonly types: readonly string[]
  /** The type of each call, in order. */
  readonly calls: readonly string[]
  readonly built: ReadonlySet<string>
}

/** What a language knows of statements. */
export interface RunLanguage<Statement, Unified> {
  /** What is alike in several runs of statements, or undefined where they differ in more than can be handed in. */
  unify(runs: readonly (readonly Statement[])[]): Unified | undefined
  /** `unified`: what differs is left out. */
  called(statements: readonly Statement[], unified?: Unified): Called
  /** Whether a run may begin or end with a statement; by default with one that calls something of the project's. */
  readonly mayBegin?: (statement: Statement) => boolean
  readonly mayEnd?: (statement: Statement) => boolean
  /** How many calls make a run worth one; 3 where it is not said. */
  readonly calls?: number
}

/** The same statements in several blocks, but for what can be handed in. */
export interface Repeated<Block, Statement, Unified> extends Called {
  readonly places: readonly { readonly block: Block; readonly statements: readonly Statement[] }[]
  readonly unified: Unified
}

/** So many places, types and calls make a run worth one call; so many places are looked at. */
const PLACES = 2, TYPES = 2, CALLS = 3, MOST = 60

/**
 * Runs of statements that several blocks have alike and in which a type is called or built, those first that save most; none has a
 * statement in common with a better one. Quadratic in the anchors, of which at most `MOST` are looked at. `fits`: whether a run can be used.
 */
export function findRepeated<Block, Statement, Unified, Run extends Called & { readonly places: readonly { readonly statements: readonly Statement[] }[] }>(
  type: string, all: readonly RunAnchor<Block, Statement>[], language: RunLanguage<Statement, Unified>, fits: (run: Repeated<Block, Statement, Unified>) => Run | undefined
): Run[] {
  const anchors = all.filter(one => one.types.has(type)).slice(0, MOST)
  const numbers = new Map<Statement, number>()
  const numberOf = (statement: Statement) => { const known = numbers.get(statement) ?? numbers.size; numbers.set(statement, known); return known }
  const runs = new Map<string, Run>()
  anchors.forEach((first, index) => {
    const ranges = new Map<string, { from: number; to: number }>()
    for (const other of anchors.slice(index + 1)) {
      const range = longest(first, other, language)
      if (range) ranges.set(`${range.from} ${range.to}`, range)
    }
    for (const { from, to } of ranges.values()) {
      const run = runOf(first, from, to, anchors, language)
      const usable = run?.types.includes(type) ? fits(run) : undefined
      if (usable) runs.set(usable.places.map(({ statements }) => `${numberOf(statements[0]!)}-${statements.length}`).join('+'), usable)
    }
  })
  const saved = ({ places }: Run) => places.length * places[0]!.statements.length
  const overlap = (a: Run, b: Run) => { const mine = new Set(a.places.flatMap(one => one.statements)); return b.places.some(one => one.statements.some(statement => mine.has(statement))) }
  return [...runs.values()].sort((a, b) => saved(b) - saved(a)).filter((run, at, sorted) => !sorted.slice(0, at).some(better => overlap(better, run)))
}

/** How far around two places the statements are alike, counted from the first one's. */
function longest<Block, Statement, Unified>(first: RunAnchor<Block, Statement>, other: RunAnchor<Block, Statement>, language: RunLanguage<Statement, Unified>): { from: number; to: number } | undefined {
  const a = first.statements, b = other.statements, shift = other.at - first.at
  const alike = (from: number, to: number) => from >= 0 && to <= a.length && from + shift >= 0 && to + shift <= b.length &&
    language.unify([a.slice(from, to), b.slice(from + shift, to + shift)]) !== undefined
  let from = first.at, to = first.at + 1
  if (!alike(from, to)) return undefined
  while (alike(from - 1, to)) from--
  while (alike(from, to + 1)) to++
  // Two places of one block must not run into each other.
  return first.block === other.block && Math.abs(shift) < to - from ? undefined : { from, to }
}

function runOf<Block, Statement, Unified>(
  first: RunAnchor<Block, Statement>, from: number, to: number, anchors: readonly RunAnchor<Block, Statement>[], language: RunLanguage<Statement, Unified>
): Repeated<Block, Statement, Unified> | undefined {
  // What stands at either end and calls nothing of the project's stays where it is.
  const calls = (statement: Statement) => language.called([statement]).calls.length > 0
  const { mayBegin = calls, mayEnd = calls } = language
  while (from < to && !mayBegin(first.statements[from]!)) from++
  while (to > from && !mayEnd(first.statements[to - 1]!)) to--
  const run = alikeElsewhere(first, from, to, anchors, language, PLACES)
  return run && isWorthOneCall(run, language.calls) ? run : undefined
}

/** Statements of a block, and those of others that are alike; undefined where there are too few. */
function alikeElsewhere<Block, Statement, Unified>(
  first: RunAnchor<Block, Statement>, from: number, to: number, anchors: readonly RunAnchor<Block, Statement>[], language: RunLanguage<Statement, Unified>, fewest: number
): Repeated<Block, Statement, Unified> | undefined {
  const statements = first.statements.slice(from, to), lead = first.at - from
  if (statements.length < 2 || lead < 0 || lead >= statements.length) return undefined
  const places = [{ block: first.block, statements }], used = new Set(statements)
  for (const { block, statements: others, at } of anchors) {
    const list = others.slice(Math.max(0, at - lead), at - lead + statements.length)
    if (at - lead < 0 || list.length < statements.length || list.some(one => used.has(one))) continue
    if (!language.unify([...places.map(one => one.statements), list])) continue
    places.push({ block, statements: list })
    for (const one of list) used.add(one)
  }
  const unified = places.length < fewest ? undefined : language.unify(places.map(one => one.statements))
  if (!unified) return undefined
  return { ...language.called(statements, unified), places, unified }
}

function isWorthOneCall({ types, calls }: Called, fewest = CALLS): boolean { return types.length >= TYPES && calls.length >= fewest }

/**
 * Statements that somebody shows, with those of other blocks that are alike. `first`: one of them that calls something of the
 * project's; undefined where they cannot stand elsewhere.
 */
export function shownAndAlike<Block, Statement, Unified>(
  first: RunAnchor<Block, Statement>, from: number, to: number, anchors: readonly RunAnchor<Block, Statement>[], language: RunLanguage<Statement, Unified>
): Repeated<Block, Statement, Unified> | undefined {
  return alikeElsewhere(first, from, to, anchors.filter(one => [...first.types].some(type => one.types.has(type))).slice(0, MOST), language, 1)
}

/** Longer blocks are not looked through for what could be shown. */
const MOST_STATEMENTS = 60

/**
 * Rows of statements of a block that one call could stand for, each as far as it goes and from its first call to its last, by the
 * places where they begin and end; those over most types first. What goes over too little is left out. `fits`: whether a row can be
 * used. For a block cubic in its statements.
 */
export function rowsOf<Statement, Unified>(statements: readonly Statement[], { unify, called, calls }: RunLanguage<Statement, Unified>, fits: (from: number, to: number) => boolean): { readonly from: number; readonly to: number }[] {
  const rows: { from: number; to: number; types: number }[] = []
  const hasCall = (at: number) => called([statements[at]!]).calls.length > 0
  let end = 0
  for (let from = 0; from < statements.length && statements.length <= MOST_STATEMENTS; from++) {
    if (!hasCall(from)) continue
    let most = from
    while (most < statements.length && unify([statements.slice(from, most + 1)])) most++
    // What ends where an earlier one does is a part of it.
    for (let to = most; to > end && to - from >= 2; to--) {
      const row = statements.slice(from, to), said = called(row, unify([row]))
      if (!isWorthOneCall(said, calls)) break
      if (!hasCall(to - 1) || !fits(from, to)) continue
      rows.push({ from, to, types: said.types.length })
      end = to
      break
    }
  }
  return rows.sort((a, b) => b.types - a.types)
}

/** More than this, what keeps nothing is no simpler to call than what it does. */
const MOST_HANDED = 5

/**
 * Whether one call hides more of the types that statements go over than it would still have to be handed, where nothing can be
 * kept for it. `handed`: the type of each argument by its id, where it is one of the project's.
 */
export function hidesMore({ types }: Called, handed: readonly (string | undefined)[]): boolean {
  const shown = new Set(handed.filter(one => one !== undefined && types.includes(one)))
  const hidden = types.length - shown.size
  return handed.length <= MOST_HANDED && hidden > 0 && hidden >= shown.size
}

/** Types of a run, most called first. */
export function byCalls({ types, calls }: Called): string[] {
  const count = (type: string) => calls.filter(one => one === type).length
  return [...types].sort((a, b) => count(b) - count(a))
}

/** Names of runs by the method that the first place of each stands in: they stay the same while code around them changes. */
export function keysOf(methods: readonly string[]): string[] {
  const counts = new Map<string, number>()
  return methods.map(name => {
    const count = (counts.get(name) ?? 0) + 1
    counts.set(name, count)
    return count === 1 ? name : `${name}:${count}`
  })
}
