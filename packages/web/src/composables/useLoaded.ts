import type { Ref, WatchSource } from 'vue'
import { ref, watch } from 'vue'

export interface Loaded<T> {
  readonly data: Ref<T | null>
  readonly error: Ref<string | null>
  readonly loading: Ref<boolean>
  reload(): Promise<void>
}

/** Loads something now and whenever `sources` change; an answer that was overtaken by a later one is dropped. */
export function useLoaded<T>(sources: WatchSource | WatchSource[], load: () => Promise<T> | null): Loaded<T> {
  const data = ref<T | null>(null) as Ref<T | null>
  const error = ref<string | null>(null)
  const loading = ref(false)
  let newest = 0
  async function reload(): Promise<void> {
    const mine = ++newest
    const promise = load()
    if (!promise) return
    loading.value = true
    try {
      const value = await promise
      if (mine === newest) { data.value = value; error.value = null }
    } catch (failure) {
      if (mine === newest) error.value = (failure as Error).message
    } finally {
      if (mine === newest) loading.value = false
    }
  }
  watch(sources, () => void reload(), { immediate: true })
  return { data, error, loading, reload }
}
