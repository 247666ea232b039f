/** The list under a key, made where there is none yet. */
export function listIn<K, V>(lists: Map<K, V[]>, key: K): V[] {
  let list = lists.get(key)
  if (!list) lists.set(key, list = [])
  return list
}
