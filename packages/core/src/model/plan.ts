import type { TouchingLines } from './touching-lines.js'
import type { FileChange } from '../edit/text-edit.js'
import type { Observations } from './observation.js'
import type { DeclaredLines, IntroduceFacadePlan, RepeatedSequence } from './repeated-sequence.js'
import type { TestBeside } from './test-beside.js'

/** Why a remedy cannot be done here, in one sentence. `reason` is a short stable name of it. */
export interface PlanRefusal {
  readonly refused: true
  readonly reason: string
  readonly message: string
}

export function planRefused(reason: string, message: string): PlanRefusal {
  return { refused: true, reason, message }
}

/** What a step changes, tried and checked in memory. */
export interface PlannedStep {
  readonly refused: false
  readonly changes: readonly FileChange[]
  /** Single replacements made. */
  readonly edits: number
  /** What was decided on the way, for people: names given, uses that kept their type and why. */
  readonly notes: readonly string[]
  /** The choices as they were taken, defaults filled in. */
  readonly choices: Readonly<Record<string, string>>
  /**
   * Path of a test among its files that records instead of comparing: it has to be run, with a file named in the environment variable
   * `HOLLOWMOOR_RECORDING`, and the step planned again with what it wrote there.
   */
  readonly recorder?: string
  /** A test that is there already beside the one that the step writes. */
  readonly beside?: TestBeside
}

export type StepOutcome = PlannedStep | PlanRefusal

/** Where an extracted interface is put: a file of its own beside the class, the class's file, or a file beside a client. */
export type InterfacePlace = 'own-file' | 'class-file' | 'client'

/** A new abstraction over some members of a class, and its clients narrowed to it. */
export interface ExtractInterfacePlan {
  readonly type: string
  /** Names of members, or null for all public ones. */
  readonly members: readonly string[] | null
  /** Name of the interface, or null for the proposed one. */
  readonly name: string | null
  readonly place: InterfacePlace
  /** For the place `client`: the type beside which it is put. */
  readonly client: string | null
  /** Whether uses of the class as a type are narrowed to the interface wherever their use allows. */
  readonly narrow: boolean
  /** Ids of other classes of the same shape that implement it too. */
  readonly others?: readonly string[]
}

/** A collaborator that becomes a constructor parameter. */
export interface InjectPlan {
  readonly type: string
  /** Key of the point, as `injectionPoints` gives it. */
  readonly point: string
  /** Name of the parameter, or null for the proposed one. */
  readonly name: string | null
  /** The type that the parameter is declared with: an id, or null for the narrowest that serves. */
  readonly as: string | null
  /** Keeps a default for callers that are not changed. */
  readonly withDefault: boolean
  /** How many levels up creation is passed on where a creation site runs once in a constructor; 0 builds at each site. */
  readonly levels: number
}

/** A part of an interface that some of its clients need by itself. */
export interface Role {
  readonly name: string
  readonly members: readonly string[]
}

/** An interface divided into roles, of which it is then composed. */
export interface SplitInterfacePlan {
  readonly type: string
  readonly roles: readonly Role[]
  /** Whether uses are narrowed to the smallest role that serves. */
  readonly narrow: boolean
  /** Whether implementations keep only the roles that they can honour, and lose members that are empty or only throw. */
  readonly drop: boolean
}

/** A class of statics whose work an instance does, behind an interface. */
export interface MakeReplaceablePlan {
  readonly type: string
  /** Name of the interface, or null for the proposed one. */
  readonly name: string | null
  /** Name of the class that does the work, or null for the proposed one. */
  readonly implementation: string | null
  /** Who sees another one that stands in: everybody until it is put back, or only what runs meanwhile (an ambient holder). */
  readonly swap: 'for-all' | 'during'
}

/** Members of a class as a class of their own, which it holds. */
export interface ExtractClassPlan {
  readonly type: string
  /** Names of fields and of the methods that share them. */
  readonly members: readonly string[]
  /** Name of the class, or null for the proposed one. */
  readonly name: string | null
  /** What it is called by behind the name of its class where no name is chosen; null for its first member. */
  readonly stem: string | null
  /** Whether it is exported where the class is: one that is handed in has to be built elsewhere. */
  readonly exported: boolean
  /** Whether objects of tests that are only asked for what goes are of the new class. */
  readonly tests: boolean
}

/** Arguments of a constructor as one object. */
export interface GroupArgumentsPlan {
  readonly type: string
  /** Names of arguments that stand next to each other, in order. */
  readonly parameters: readonly string[]
  /** Name of the object's type, or null for the proposed one. */
  readonly name: string | null
}

/** A class that implements an interface. */
export interface ImplementInterfacePlan {
  readonly type: string
  /** To be written; answering what a test tells it; also keeping every call; or keeping what it is given and giving it back. */
  readonly as: 'implementation' | 'stub' | 'spy' | 'fake'
  /** Name of the class, or null for the proposed one. */
  readonly name: string | null
}

/** A type that goes to another module, with what is private to it. */
export interface MoveTypePlan {
  readonly type: string
  /** One function, constant or alias of those that a unit stands for; null for a type itself. */
  readonly member: string | null
  /** Id of the module that it goes to; one that does not exist yet is made. */
  readonly module: string
}

/** What the objects of a class use of one library, or of the language's runtime for one effect. */
export interface OutsideUses {
  readonly key: string
  /** What is shown: `node:fs` or `the clock`. */
  readonly label: string
  /** Proposed names of the interface and of the class in front of it. */
  readonly name: string
  readonly implementation: string
  /** Uses that can be put behind an interface. */
  readonly uses: number
  /** Number of places that would be edited, at most. */
  readonly edits: number
  readonly files: number
}

/** What a class uses of a library, behind an interface of the project's own, which it is handed. */
export interface WrapLibraryPlan {
  readonly type: string
  /** Key of the uses, as `outsideUses` gives it. */
  readonly uses: string
  /** Names of the interface and of the class that implements it, or null for the proposed ones. Where they exist, they are extended. */
  readonly name: string | null
  readonly implementation: string | null
  /** Folder that both are put in, or null for one at the root of the sources. */
  readonly folder: string | null
  /** Keeps a default for callers that are not changed. */
  readonly withDefault: boolean
}

/** A place where a class builds or fetches a collaborator itself. */
export interface InjectionPoint {
  readonly key: string
  readonly type: string
  /** Id of the collaborator, or of the unit that exports the instance. */
  readonly collaborator: string
  /** What is shown: `GateMotor` or `logbook`. */
  readonly label: string
  readonly kind: 'creation' | 'instance'
  /** What takes the parameter: the constructor; or the function or static method itself, whose parameter always has a default. */
  readonly into: 'constructor' | 'function'
  readonly member: string
  readonly line: number
  /** Number of places that would be edited, at most. */
  readonly edits: number
  readonly files: number
}

/** A method that could stand in the class of one of its arguments. */
export interface MovableMember {
  readonly member: string
  /** Id of that class. */
  readonly to: string
  /** How many of its members the method uses, and how many fields of its own class. */
  readonly uses: number
  readonly own: number
}

/** A method in the class of one of its arguments; its own class keeps one that hands on. */
export interface MoveMemberPlan {
  readonly type: string
  readonly member: string
  /** Id of the class that it goes to. */
  readonly to: string
}

/** What one argument of a constructor is: an object of the graph by its place, or something handed in by its place. */
export type GraphArgument = { readonly object: number } | { readonly handedIn: number }

/** An object of a graph, built by the constructor of its type that takes most. */
export interface GraphObject {
  readonly type: string
  readonly arguments: readonly GraphArgument[]
}

/** What the graph does not build: a parameter of the function, declared as a parameter of one of the constructors is. */
export interface HandedIn {
  readonly name: string
  /** The type whose constructor takes it, and the place of its parameter there. */
  readonly of: string
  readonly parameter: number
  /** Id of the type that it is declared as, or the name of an external, or ''. */
  readonly wanted: string
  /** The declared type as written. */
  readonly text: string
}

/** An object and all that it needs, built in one place. */
export interface ComposeGraphPlan {
  readonly type: string
  /** Name of the function, or of the class that has it; null for the proposed one. */
  readonly name: string | null
  /** In the order in which they are built; the last is the one that is wanted. */
  readonly objects: readonly GraphObject[]
  readonly handedIn: readonly HandedIn[]
}

/** A function or class beside the tests for set-up that several of them have alike. */
export interface BuildForTestsPlan {
  readonly type: string
  /** Key of the set-up, as `repeatedSetUps` gives it. */
  readonly sequence: string
  /** Name of the function or class, or null for the proposed one. */
  readonly name: string | null
}

/** Statements of a class that a framework builds, which do not touch the framework. */
export interface PlainPart {
  /** The method that they stand in. */
  readonly member: string
  readonly line: number
  readonly statements: number
  readonly lines: number
  /** Proposed names of the class and of its method. */
  readonly name: string
  readonly method: string
}

/** Statements of a class as a class of their own, which it holds and asks: logic of one that a framework builds, or what touches the outside. */
export interface ExtractPlainClassPlan {
  readonly type: string
  /**
   * The methods whose statements go, to a method of the class each; with what touches the outside, by the lines in which it stands, and
   * what that is called; null for what does without the framework.
   */
  readonly parts: readonly { readonly member: string; readonly touching: TouchingLines | null }[]
  /** Names of the class and of its method, where that is one, or null for the proposed ones. */
  readonly name: string | null
  readonly method: string | null
}

/** A switch over kinds in a method or function, whose cases could stand in a class each. */
export interface SwitchPlace {
  readonly key: string
  readonly member: string
  /** Whether an object is handed what chooses; what belongs to no object calls it by its name. */
  readonly handed: boolean
  readonly line: number
  /** What the kinds are, as it is shown, and what each case is called. */
  readonly over: string
  readonly cases: readonly string[]
  /** Proposed name of the interface. */
  readonly name: string
  readonly edits: number
  readonly files: number
}

/** An interface with one implementation for each case of a switch; what chooses among them is handed in. */
export interface ReplaceTypeSwitchPlan {
  readonly type: string
  /** Key of the switch, as `typeSwitches` gives it. */
  readonly place: string
  /** Name of the interface, or null for the proposed one. */
  readonly name: string | null
  /** Keeps a default for callers that are not changed. */
  readonly withDefault: boolean
}

/** A static method of a class that gives an instance: one that only calls it, or one by which another stands in. Or an exported function that can be handed in with others. */
export interface StaticFace {
  readonly member: string
  readonly kind: 'face' | 'swap'
}

/** Static methods that only call an instance, which nobody calls any more, go; functions that are handed in are not exported one by one. */
export interface RetireStaticFacePlan {
  readonly type: string
  /** Names of the methods or functions. */
  readonly members: readonly string[]
}

/** A test of a class by itself that holds what it does now. */
export interface WriteFirstTestPlan {
  readonly type: string
  /** Name of the file or class, or null for the proposed one. */
  readonly name: string | null
  /** Ids of types whose objects can be built and used without touching what lies outside. */
  readonly buildable: ReadonlySet<string>
  /** What it was seen to do; null where that has still to be recorded. */
  readonly seen: Observations | null
}

/** Every kind of plan, by the name of what carries it out. */
export interface Plans {
  extractInterface: ExtractInterfacePlan
  inject: InjectPlan
  wrapLibrary: WrapLibraryPlan
  splitInterface: SplitInterfacePlan
  makeReplaceable: MakeReplaceablePlan
  implementInterface: ImplementInterfacePlan
  extractClass: ExtractClassPlan
  groupArguments: GroupArgumentsPlan
  moveType: MoveTypePlan
  composeGraph: ComposeGraphPlan
  moveMember: MoveMemberPlan
  introduceFacade: IntroduceFacadePlan
  buildForTests: BuildForTestsPlan
  extractPlainClass: ExtractPlainClassPlan
  replaceTypeSwitch: ReplaceTypeSwitchPlan
  retireStaticFace: RetireStaticFacePlan
  writeFirstTest: WriteFirstTestPlan
}

/** What is asked of a type before anything is planned. It is asked of every type that a page shows, so answers are cheap. */
export interface Questions {
  /** Members of a class that an interface could have, in order. */
  interfaceMembers(type: string): readonly string[]
  injectionPoints(type: string): readonly InjectionPoint[]
  /** What the objects of a class use of libraries themselves, as far as it can be put behind an interface. */
  outsideUses(type: string): readonly OutsideUses[]
  /** Members of an interface that a role of it could have, in order; none where it cannot be divided. */
  dividedMembers(type: string): readonly string[]
  /** Static methods of a class that an instance could do, in order; none where it cannot be made so. */
  replaceableMethods(type: string): readonly string[]
  /** Names of what an implementation of an interface has to have; none where it cannot be implemented here. */
  membersToImplement(type: string): readonly string[]
  /** Whether some members of a class can go into one of their own, as far as that is seen without trying. */
  canExtractClass(type: string, members: readonly string[]): boolean
  /** Names of own fields that nothing sets any more once they are filled, so that a class that is taken out can have them too. */
  sharableFields(type: string): readonly string[]
  /** Names of a constructor's arguments from the first on, as far as they can be grouped. */
  groupableParameters(type: string): readonly string[]
  /** Whether a type stands so that it can go to a module, as far as that is soon seen. */
  canMove(type: string, module: string, member?: string): boolean
  /** Methods of a class that could stand in the class of one of their arguments, as far as that is soon seen. */
  movableMembers(type: string): readonly MovableMember[]
  /** Statements over a type that several classes have alike, those first that save most. */
  repeatedSequences(type: string): readonly RepeatedSequence[]
  /** Statements of a class that one call could stand for, whether others have them alike or not, and where they stand; null where there are none. */
  showableSequence(type: string): RepeatedSequence | null
  /** The lines that declare a class. */
  declaredLines(type: string): DeclaredLines | null
  /** Set-up with a type that tests have alike, that first that saves most. The places are lines. */
  repeatedSetUps(type: string): readonly RepeatedSequence[]
  /** Logic that could stand in a plain class, of a class that inherits from a library, most lines first. */
  plainParts(type: string): readonly PlainPart[]
  /** The fewest statements in a row of a method that hold all that touches something outside, and could stand in a class of their own. */
  touchingPart(type: string, member: string, touching: TouchingLines): PlainPart | null
  /** Switches over kinds in the methods of a class whose cases could stand in a class each, in order. */
  typeSwitches(type: string): readonly SwitchPlace[]
  /** Static methods that only call the instance that their class gives, and those that let another stand in; exported functions that are handed in together. */
  staticFaces(type: string): readonly StaticFace[]
  /** Names of the members of a class that a test of it could call; none where it cannot be built by one, or the project has no tests to write it like. */
  testableMembers(type: string): readonly string[]
  /** Whether a class has type parameters, or stands in one that has. */
  isGeneric(type: string): boolean
}

/** Answers questions and writes planned changes, each checked on the result before it is handed out. */
export type LanguageWriter = Questions & { readonly [Kind in keyof Plans]: (plan: Plans[Kind]) => StepOutcome } & {
  /** Plans on the same state without reading the result again, and without standing at it then: quick, and it may not compile. */
  readonly sketch?: LanguageWriter
}

/** A writer and the state that its last step led to. */
export type WriterAt<State> = Omit<LanguageWriter, 'sketch'> & { readonly current: State; readonly sketch: WriterAt<State> }
