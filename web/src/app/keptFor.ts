/** What is remembered in this browser for each piece or pattern by itself: none of it goes along into another. */
import { useLocalStorage } from '@vueuse/core'
import { computed, type WritableComputedRef } from 'vue'

const MOST = 200

/** `of` is the number of the piece or pattern that is open; `plain` holds where nothing was set there yet. */
export function useKeptFor<T>(name: string, of: () => number, plain: T): WritableComputedRef<T> {
  const all = useLocalStorage<Record<string, T>>(name, {})
  return computed({
    get: () => all.value[of()] ?? plain,
    set: (value) => {
      const others = Object.entries(all.value).filter(([each]) => each !== String(of()))
      all.value = Object.fromEntries([...others.slice(1 - MOST), [String(of()), value]])
    },
  })
}
