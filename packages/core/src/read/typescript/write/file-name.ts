/** A file name in the manner of the file that what it is named after comes from. */
export function fileNameFor(name: string, like: string): string {
  const file = like.slice(like.lastIndexOf('/') + 1)
  const ending = /(\.[cm]?tsx?)$/.exec(file)?.[1]?.replace('tsx', 'ts') ?? '.ts'
  const stem = file.slice(0, file.indexOf('.'))
  const words = name.match(/[A-Z]+(?![a-z])|[A-Z]?[a-z0-9]+|[A-Z]/g) ?? [name]
  const isLoud = name === name.toUpperCase() && name.length > 1
  const cased = stem.includes('-') ? words.map(word => word.toLowerCase()).join('-')
    : stem.includes('_') ? words.map(word => word.toLowerCase()).join('_')
      : /^[A-Z]/.test(stem) && !isLoud ? name
        : words.length > 1 && stem === stem.toLowerCase() ? words.map(word => word.toLowerCase()).join('-')
          : isLoud ? words.map((word, at) => (at === 0 ? word.toLowerCase() : word.charAt(0).toUpperCase() + word.slice(1).toLowerCase())).join('')
            : name.charAt(0).toLowerCase() + name.slice(1)
  return cased + ending
}
