/** A name that nothing in the project has: `Ledger` gives `LedgerPort`. Classes named as implementations lose that part. */
export function proposedInterfaceName(className: string, taken: ReadonlySet<string>): string {
  const stem = className.replace(/(Impl|Implementation)$/, '') || className
  for (const candidate of [stem, `${stem}Port`, `${stem}Role`]) if (candidate !== className && !taken.has(candidate)) return candidate
  for (let n = 2; ; n++) if (!taken.has(`${stem}Port${n}`)) return `${stem}Port${n}`
}

/** The name itself, or the first with a number that is free. */
export function numberedName(name: string, free: (name: string) => boolean): string {
  if (free(name)) return name
  for (let n = 2; ; n++) if (free(`${name}${n}`)) return `${name}${n}`
}

/** `an Archive`, `a Boat`. */
export function withArticle(name: string): string { return `${/^[AEIOU]/.test(name) ? 'an' : 'a'} ${name}` }

/** `HTTPServer` gives `httpServer`. */
export function lowerFirst(name: string): string {
  const head = /^[A-Z]+(?![a-z])/.exec(name)?.[0]
  return head ? head.toLowerCase() + name.slice(head.length) : name.charAt(0).toLowerCase() + name.slice(1)
}

/** `dues` gives `Dues`. */
export function upperFirst(name: string): string { return name.charAt(0).toUpperCase() + name.slice(1) }

/** A free name for a class that implements an interface, by what it is for. */
export function implementationName(interfaceName: string, as: 'implementation' | 'stub' | 'spy' | 'fake', taken: (name: string) => boolean): string {
  const stem = interfaceName.replace(/(Port|Role)$/, '') || interfaceName
  return numberedName(as === 'implementation' ? `Other${stem}` : `${stem}${as === 'stub' ? 'Stub' : as === 'spy' ? 'Spy' : 'Fake'}`, name => !taken(name))
}
