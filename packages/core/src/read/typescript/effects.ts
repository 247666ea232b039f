/** Globals of the runtime that only compute: nothing of them needs replacing in a test. */
const PURE_GLOBALS = new Set([
  'Array', 'ArrayBuffer', 'BigInt', 'BigInt64Array', 'BigUint64Array', 'Boolean', 'DataView', 'Error', 'AggregateError',
  'EvalError', 'RangeError', 'ReferenceError', 'SyntaxError', 'TypeError', 'URIError', 'Float32Array', 'Float64Array', 'Function',
  'Infinity', 'Int8Array', 'Int16Array', 'Int32Array', 'Intl', 'Iterator', 'JSON', 'Map', 'NaN', 'Number', 'Object', 'Promise', 'Proxy',
  'Reflect', 'RegExp', 'Set', 'String', 'Symbol', 'TextDecoder', 'TextEncoder', 'URL', 'URLSearchParams', 'Uint8Array',
  'Uint8ClampedArray', 'Uint16Array', 'Uint32Array', 'WeakMap', 'WeakRef', 'WeakSet', 'Buffer', 'AbortController', 'AbortSignal',
  'Event', 'EventTarget', 'structuredClone', 'decodeURI', 'decodeURIComponent', 'encodeURI', 'encodeURIComponent', 'escape',
  'unescape', 'isFinite', 'isNaN', 'parseFloat', 'parseInt', 'undefined', 'globalThis', 'atob', 'btoa', 'eval', 'Atomics',
  'SharedArrayBuffer', 'FinalizationRegistry'
])

/** True for `Math.max` or `JSON`, false for `Math.random`, `Date.now` or `console.log`. */
export function isPureGlobal(member: string): boolean {
  const head = member.split('.')[0]!
  return head === 'Math' ? member !== 'Math.random' : PURE_GLOBALS.has(head)
}
