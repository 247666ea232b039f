import type ts from 'typescript'
import type { PlanRefusal } from '../../../model/plan.js'
import { planRefused } from '../../../model/plan.js'
import type { WriteContext } from './context.js'
import { topLevelNames } from './file-editor.js'
import { fileNameFor } from './file-name.js'

/** The refusal of what is no name in the language; undefined for one that is. `kind`: `a class`. */
export function refusedName(name: string, kind: string): PlanRefusal | undefined {
  return /^[A-Za-z_$][\w$]*$/.test(name) ? undefined : planRefused('name', `${name} is not a name that ${kind} can have.`)
}

/** What a new file is made for, and where. */
export interface NewFile {
  readonly name: string
  /** What has the name: `a class`. */
  readonly kind: string
  readonly folder: string
  /** The path of a file that shows how files are named here. */
  readonly like: string
  /** Files that will import it, in which nothing else may have the name. */
  readonly importers?: readonly ts.SourceFile[]
}

/** The path of a new file, or why there can be none. */
export function newFilePath({ name, kind, folder, like, importers = [] }: NewFile, { snapshot, root }: WriteContext): string | PlanRefusal {
  const bad = refusedName(name, kind)
  if (bad) return bad
  const target = `${folder === '' ? '' : `${folder}/`}${fileNameFor(name, like)}`
  if (snapshot.files.isSource(target) || snapshot.source.isFile(`${root}/${target}`)) return planRefused('file-exists', `${target} exists already; choose another name.`)
  const other = importers.find(file => topLevelNames(file).has(name))
  return other ? planRefused('name-taken', `${snapshot.pathOf(other)!} has a ${name} already; choose another name.`) : target
}
