/** Last part of a module's or file's path, or a type's name. A package keeps its whole name, but for what it is shown within. */
export function labelOf(id: string, within = ''): string {
  const hash = id.indexOf('#')
  if (hash >= 0) return id.slice(hash + 1) || id.slice(id.lastIndexOf('/', hash) + 1, hash)
  if (id === '.') return '(root)'
  if (within !== '' && id.startsWith(`${within}.`)) id = id.slice(within.length + 1)
  if (id.includes('/')) return id.slice(id.lastIndexOf('/') + 1)
  // A qualified name: packages begin with small letters, types with capitals.
  const type = /(?:^|\.)([A-Z][^]*)$/.exec(id)
  return type && id.includes('.') ? type[1]! : id
}

/** The type that a reference names, where it is one of the project's and no external. */
export function isTypeId(id: string): boolean { return id.includes('#') || /\.[A-Z][^./]*$/.test(id) }
