import { escaped } from './xml.js'

const STYLE = 'body{font:15px/1.45 sans-serif;color:#1d2522;background:#fbfcfa;max-width:1100px;margin:24px auto;padding:0 18px}h1{font-weight:400}h2{font-size:17px;margin-top:28px}table{border-collapse:collapse;width:100%;font-size:14px}th,td{text-align:left;padding:4px 9px;border-bottom:1px solid #d3dad4;vertical-align:top}td.n,th.n{text-align:right}code{font-size:13px}.bad{color:#a93f28}.good{color:#1a655f}.soft{color:#55625c}'

/** One page of HTML that needs nothing else: no script, no picture, no address. `parts` are HTML already. */
export function htmlPage(title: string, parts: readonly string[]): string {
  return [
    `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(title)}</title><style>${STYLE}</style></head><body>`,
    `<h1>${escaped(title)}</h1>`, ...parts, '</body></html>\n'
  ].join('\n')
}

/** A column of a table: its name, and whether it holds figures. */
export type Column = readonly [name: string, figures: boolean]

/** A table of texts and figures, escaped. */
export function htmlTable(header: readonly Column[], rows: readonly (readonly (string | number)[])[]): string {
  return `<table><thead><tr>${header.map(([name, isNumber]) => `<th${isNumber ? ' class="n"' : ''}>${escaped(name)}</th>`).join('')}</tr></thead><tbody>${rows.map(row => `<tr>${row.map((cell, index) => `<td${header[index]![1] ? ' class="n"' : ''}>${escaped(String(cell))}</td>`).join('')}</tr>`).join('\n')}</tbody></table>`
}
