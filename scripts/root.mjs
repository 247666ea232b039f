import { dirname } from 'node:path'
import { fileURLToPath } from 'node:url'

/** The repository's root folder. A file of its own, because both who installs and who builds need it. */
export const root = dirname(dirname(fileURLToPath(import.meta.url)))
