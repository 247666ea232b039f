import type { LanguageWriter, StepOutcome } from '../model/plan.js'
import type { Survey } from '../survey.js'

/** What a remedy could do to a type. */
export interface RemedyPlace {
  /** Tells it from what else the remedy could do to the type; '' where that is one thing, or the first. */
  readonly detail: string
  readonly title: string
  /** Places that it would edit, and files that it would touch, at most. */
  readonly edits: number
  readonly files: number
}

/** A remedy that could be done somewhere. Its id stays the same while the code does. */
export interface RemedyOffer extends Omit<RemedyPlace, 'detail'> {
  readonly id: string
  readonly remedy: string
  /** Id of the type that it is done to. */
  readonly subject: string
}

/** What has a key; without a key the first, which needs none. */
export function keyed<One extends { readonly key: string }>(all: readonly One[], key: string): One | undefined { return key === '' ? all[0] : all.find(one => one.key === key) }

/** Choices of a step by name. What is left out takes its default. */
export type Choices = Readonly<Record<string, string>>

/** One choice that a step offers, as a form shows it. */
export interface ChoiceField {
  readonly name: string
  readonly label: string
  /** `groups`: the options divided, as `Name: value, value; Name: value`; `lines`: some that follow each other, as `12-18`. */
  readonly kind: 'text' | 'yes-no' | 'one-of' | 'many-of' | 'groups' | 'lines'
  /** What can be chosen, for `one-of`, `many-of` and `groups`; the lines by their numbers with what stands in them. */
  readonly options: readonly { readonly value: string; readonly label: string }[]
  readonly value: string
  readonly help: string
}

/** One kind of change: where it is offered, what can be chosen, and how it is planned. */
export interface Remedy {
  readonly name: string
  /** What it is called on a button. */
  readonly title: string
  /** Code stands elsewhere afterwards. */
  readonly moves?: true
  /** It is offered only where its edits can be written; whether they compile is seen when it is planned. */
  readonly offeredWhereWritten?: true
  /** What could be done to one type. */
  offers(type: number, survey: Survey, writer: LanguageWriter): RemedyPlace[]
  /** What a step does to a part of a type by its key, where the part is offered without one. */
  titleOf?(subject: string, key: string, survey: Survey, writer: LanguageWriter): string | undefined
  /** The choices for one offer, with their defaults. */
  choices(subject: string, detail: string, survey: Survey, writer: LanguageWriter): ChoiceField[]
  /** Plans one step; a choice that makes no sense is refused. */
  plan(subject: string, detail: string, choices: Choices, survey: Survey, writer: LanguageWriter): StepOutcome
}
