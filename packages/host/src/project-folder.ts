import { readFileSync, realpathSync, statSync } from 'node:fs'
import { createRequire } from 'node:module'
import { dirname, join, resolve } from 'node:path'
import { SettingsSchema } from '@hollowmoor/contract/settings'
import type { ProjectSettings } from '@hollowmoor/core/read/settings'
import { DEFAULT_SETTINGS } from '@hollowmoor/core/read/settings'
import type { Refusal } from '@hollowmoor/contract/errors'
import { refusal } from '@hollowmoor/contract/errors'

/** The folder of a project, its links resolved; or why it cannot be one. */
export function openFolder(path: string): { root: string } | Refusal {
  if (path.includes('\0')) return refusal('FOLDER_NAME', 'The path holds a NUL character; type the path of a folder.', path)
  const absolute = resolve(path)
  const stat = statSync(absolute, { throwIfNoEntry: false })
  if (!stat) return refusal('FOLDER_MISSING', `There is no folder ${absolute}; check the path.`, absolute)
  if (!stat.isDirectory()) return refusal('FOLDER_IS_FILE', `${absolute} is a file; name the folder that holds it.`, absolute)
  return { root: realpathSync(absolute) }
}

/** Settings that a project keeps in its own `hollowmoor.json`, over the defaults. */
export function settingsOf(root: string): ProjectSettings | Refusal {
  const path = join(root, 'hollowmoor.json')
  if (!statSync(path, { throwIfNoEntry: false })?.isFile()) return DEFAULT_SETTINGS
  let json: unknown
  try {
    json = JSON.parse(readFileSync(path, 'utf8'))
  } catch (error) {
    return refusal('SETTINGS_INVALID', `${path} is not valid JSON: ${(error as Error).message}`, path)
  }
  const parsed = SettingsSchema.safeParse(json)
  if (!parsed.success) return refusal('SETTINGS_INVALID', `${path}: ${parsed.error.issues.map(issue => `${issue.path.join('.')} ${issue.message}`).join('; ')}`, path)
  const given = Object.fromEntries(Object.entries(parsed.data).filter(([, value]) => value !== undefined))
  return { ...DEFAULT_SETTINGS, ...given }
}

/** Folder of the compiler's declarations of the language's own library. */
export const LIBRARY_FOLDER = dirname(createRequire(import.meta.url).resolve('typescript'))
