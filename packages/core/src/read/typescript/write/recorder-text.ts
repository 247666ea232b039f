/**
 * What a recording test is written with, beside the class's own set-up. It is run once and thrown away, so that it is plain JavaScript:
 * `record` does a case twice, each time with a new object, and writes each as a line of JSON. What an
 * object says afterwards counts where it says the same when it is asked nothing else before. What is named in
 * `HOLLOWMOOR_RECORDING_WITHOUT`, line by line, is passed over.
 */
export const RECORDER = `import { appendFileSync } from 'node:fs';

function shown(value, depth = 0) {
  if (value === undefined || value === null) return { is: 'nothing', text: String(value) };
  if (typeof value === 'string') return value.length > 2000 ? { is: 'object', text: 'String' } : { is: 'text', text: value };
  if (typeof value === 'number') return { is: 'number', text: Object.is(value, -0) ? '-0' : String(value) };
  if (typeof value === 'bigint' || typeof value === 'boolean') return { is: typeof value, text: String(value) };
  if (typeof value !== 'object' || depth > 5) return { is: 'object', text: typeof value };
  const name = value.constructor?.name ?? 'Object';
  if (Array.isArray(value) && value.constructor === Array && value.length <= 40) return { is: 'list', items: Array.from(value, one => shown(one, depth + 1)) };
  if (name === 'Date') return { is: 'date', text: [value.getFullYear(), value.getMonth(), value.getDate(), value.getHours(), value.getMinutes(), value.getSeconds(), value.getMilliseconds()].join(', ') };
  if (name === 'Set' && value.size <= 40) return { is: 'set', items: [...value].map(one => shown(one, depth + 1)) };
  if (name === 'Map' && value.size <= 40) return { is: 'map', entries: [...value].map(([key, one]) => [shown(key, depth + 1), shown(one, depth + 1)]) };
  const proto = Object.getPrototypeOf(value);
  if ((proto === Object.prototype || proto === null) && Object.getOwnPropertySymbols(value).length === 0 && Object.keys(value).length <= 40) return { is: 'record', fields: Object.keys(value).map(key => [key, shown(value[key], depth + 1)]) };
  return { is: 'object', text: name };
}

function write(line) {
  if (process.env.HOLLOWMOOR_RECORDING) appendFileSync(process.env.HOLLOWMOOR_RECORDING, JSON.stringify(line) + '\\n');
}

function asked(ask) {
  try { return shown(ask()); } catch { return null; }
}

async function record(name, begin) {
  if ((process.env.HOLLOWMOOR_RECORDING_WITHOUT ?? '').split('\\n').includes(SUBJECT + ' ' + name)) return;
  for (let turn = 0; turn < 2; turn++) {
    write({ subject: SUBJECT, begun: name });
    let begun;
    try { begun = begin(); } catch (error) { write({ subject: SUBJECT, name: '', error: String(error) }); return; }
    const seen = { gives: null, throws: null, calls: [], after: [] };
    try { seen.gives = shown(await begun.call()); } catch (error) { seen.throws = { type: error?.constructor?.name ?? typeof error, message: String(error?.message ?? error) }; }
    seen.calls = begun.calls.map(([name, ...given]) => ({ name, given: given.map(one => shown(one)) }));
    for (const [at, ask] of begun.queries.entries()) {
      const together = asked(ask), other = begin();
      try { await other.call(); } catch { /* told above */ }
      const byItself = asked(other.queries[at]);
      seen.after.push(JSON.stringify(together) === JSON.stringify(byItself) ? together : null);
    }
    write({ subject: SUBJECT, name, seen });
  }
}
`
