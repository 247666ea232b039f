/** A rectangle by its middle. */
export interface Box { readonly x: number; readonly y: number; readonly width: number; readonly height: number }

/** Those of some things whose boxes lie over none that came before them. O(n²): meant for what fits on a screen. */
export function apart<One>(things: readonly One[], boxOf: (one: One) => Box, taken: readonly Box[] = []): One[] {
  const boxes = [...taken]
  return things.filter(one => {
    const box = boxOf(one)
    const free = boxes.every(other => Math.abs(other.x - box.x) * 2 >= other.width + box.width || Math.abs(other.y - box.y) * 2 >= other.height + box.height)
    if (free) boxes.push(box)
    return free
  })
}
