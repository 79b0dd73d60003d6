/** The guide beside the music: whether it is there, at which page, and what of each page was tried. */
import { useLocalStorage } from '@vueuse/core'

const kept = useLocalStorage('jolly-guide', { open: false, page: '', tried: {} as Record<string, string[]> })

export function useGuideBeside() {
  const openAt = (page: string) => (kept.value = { ...kept.value, open: true, page })
  const close = () => (kept.value = { ...kept.value, open: false })
  const triedOn = (page: string) => kept.value.tried[page] ?? []
  function setTried(page: string, names: string[]): void {
    kept.value = { ...kept.value, tried: { ...kept.value.tried, [page]: names } }
  }
  return { kept, openAt, close, triedOn, setTried }
}
