import { catalogueOf } from '../../effect/shipped.js'

/** True for globals of the runtime that only compute: `Math.max` or `JSON`, but not `Math.random`, `Date.now` or `console.log`. */
export function isPureGlobal(member: string): boolean { return catalogueOf('typescript').effectOf('runtime', member) === 'pure' }
