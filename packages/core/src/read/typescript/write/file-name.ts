/** A file name in the manner of the class's own file. */
export function fileNameFor(name: string, like: string): string {
  const file = like.slice(like.lastIndexOf('/') + 1)
  const ending = /(\.[cm]?tsx?)$/.exec(file)?.[1]?.replace('tsx', 'ts') ?? '.ts'
  const stem = file.slice(0, file.indexOf('.'))
  const words = name.match(/[A-Z]+(?![a-z])|[A-Z]?[a-z0-9]+|[A-Z]/g) ?? [name]
  const cased = stem.includes('-') ? words.map(word => word.toLowerCase()).join('-')
    : stem.includes('_') ? words.map(word => word.toLowerCase()).join('_')
      : /^[A-Z]/.test(stem) ? name
        : words.length > 1 && stem === stem.toLowerCase() ? words.map(word => word.toLowerCase()).join('-')
          : name.charAt(0).toLowerCase() + name.slice(1)
  return cased + ending
}
