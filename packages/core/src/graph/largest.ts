/**
 * Places of the `count` largest of some numbers, ascending; of equal ones the first. Only their boundary is looked for, which
 * is less than sorting all: expected O(n) (Hoare 1961).
 */
export function largest(values: Float64Array, count: number): number[] {
  if (count <= 0) return []
  if (count >= values.length) return Array.from(values, (_, at) => at)
  const boundary = nthLargest(values.slice(), count)
  let above = 0
  for (const value of values) if (value > boundary) above++
  const found: number[] = []
  let equal = count - above
  for (let at = 0; at < values.length; at++) {
    if (values[at]! > boundary || (values[at] === boundary && equal-- > 0)) found.push(at)
  }
  return found
}

/** The number that stands at place `count` when they are sorted downward; puts the numbers in another order. */
function nthLargest(values: Float64Array, count: number): number {
  const wanted = count - 1
  let low = 0, high = values.length - 1
  while (low < high) {
    const pivot = values[(low + high) >> 1]!
    let left = low, right = high
    while (left <= right) {
      while (values[left]! > pivot) left++
      while (values[right]! < pivot) right--
      if (left > right) break
      const value = values[left]!
      values[left++] = values[right]!
      values[right--] = value
    }
    if (wanted <= right) high = right
    else if (wanted >= left) low = left
    else return pivot
  }
  return values[wanted]!
}
