import type { Snapshot } from '../session.js'

/**
 * How a parameter is called by code that may not read it: where the configuration of a file forbids such parameters, an underscore before
 * its name says that it is meant.
 */
export function parameterNames(path: string, { files }: Snapshot): (name: string, body: string) => string {
  const forbidden = files.optionsFor(path).noUnusedParameters === true || files.options.noUnusedParameters === true
  return (name, body) => (forbidden && !new Set(body.match(/[\p{L}\p{N}_$]+/gu)).has(name) ? `_${name}` : name)
}
