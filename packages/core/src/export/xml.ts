/** Text for XML and HTML, in elements and attributes; characters that neither can hold fall out. */
export function escaped(text: string): string {
  return [...text].filter(char => char >= ' ' || char === '\n' || char === '\t').join('').replaceAll('&', '&amp;').replaceAll('<', '&lt;').replaceAll('>', '&gt;').replaceAll('"', '&quot;')
}
