/** Properties of a drawing that its style sheet gives and that a file of its own has to carry. */
const CARRIED = ['fill', 'stroke', 'stroke-width', 'stroke-dasharray', 'opacity', 'font-family', 'font-size', 'font-weight', 'paint-order', 'text-anchor']

/** A drawing on the page as a file of its own: what the style sheet says is written into each element. */
export function drawingText(svg: SVGSVGElement): string {
  const copy = svg.cloneNode(true) as SVGSVGElement
  const originals = [...svg.querySelectorAll<SVGElement>('*')], copies = [...copy.querySelectorAll<SVGElement>('*')]
  originals.forEach((element, index) => {
    const style = getComputedStyle(element), target = copies[index]!
    for (const name of CARRIED) { const value = style.getPropertyValue(name); if (value !== '') target.style.setProperty(name, value) }
    for (const name of ['tabindex', 'role', 'class']) target.removeAttribute(name)
  })
  copy.setAttribute('xmlns', 'http://www.w3.org/2000/svg')
  copy.style.background = getComputedStyle(document.body).getPropertyValue('--sheet')
  return new XMLSerializer().serializeToString(copy)
}

/** Hands a text to the browser as a file to save. */
export function saveText(name: string, type: string, text: string): void {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([text], { type }))
  link.download = name
  link.click()
  URL.revokeObjectURL(link.href)
}
