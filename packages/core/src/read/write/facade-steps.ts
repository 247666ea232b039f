import { numberedName } from './names.js'

/** What a facade's method is handed, as far as a face of steps asks: for each place the constant that stands there, or null. */
export interface StepSource {
  readonly name: string
  /** It can be said earlier or later without a difference. */
  readonly settled: boolean
  readonly constants: readonly (string | null)[]
}

/** One thing that is said in a step. `index`: of the parameter that it is; `left`: what it is where nobody says it. */
export interface FacadeStep {
  readonly index: number
  readonly name: string
  readonly left: string | null
}

export interface FacadeSteps {
  /** Each is said, in this order; then any of the optional ones, and then it is done. */
  readonly required: readonly FacadeStep[]
  readonly optional: readonly FacadeStep[]
}

/** From here on a call does not tell which argument is which. */
const MANY_ARGUMENTS = 5

/**
 * Divides parameters into those that every place says and those that some place leaves at a constant. What may be left out is said
 * last, so it has to be settled: when it is worked out must not matter. `taken`: names that no step may have.
 */
export function facadeSteps(parameters: readonly StepSource[], taken: ReadonlySet<string>): FacadeSteps {
  const names = new Set(taken)
  const steps = parameters.map(({ name, settled, constants }, index): FacadeStep => {
    const step = numberedName(name, one => !names.has(one))
    names.add(step)
    return { index, name: step, left: settled ? usual(constants) : null }
  })
  return { required: steps.filter(one => one.left === null), optional: steps.filter(one => one.left !== null) }
}

/** The constant that most places hand in, where others hand in something else. */
function usual(constants: readonly (string | null)[]): string | null {
  const counts = new Map<string, number>()
  for (const one of constants) if (one !== null) counts.set(one, (counts.get(one) ?? 0) + 1)
  const [most] = [...counts].sort((a, b) => b[1] - a[1])
  return most && most[1] < constants.length ? most[0] : null
}

/** Whether arguments are better said one by one. */
export function areMany({ required, optional }: FacadeSteps): boolean { return required.length + optional.length >= MANY_ARGUMENTS || optional.length >= 2 }

/** `number(7)`, `text(craft)`, … as one place says them; what it leaves at its constant is not said. `given`: by parameter. */
export function stepsSaid({ required, optional }: FacadeSteps, given: readonly string[]): string[] {
  return [...required, ...optional.filter(one => given[one.index] !== one.left)].map(one => `${one.name}(${given[one.index]!})`)
}

/** `text` gives `TextStep`. */
export function stepTypeName(name: string): string { return `${name.charAt(0).toUpperCase()}${name.slice(1)}Step` }

/** The comment before the first step. */
export const BEGINS = '/** Begins: the rest is said in the steps that follow. */'
