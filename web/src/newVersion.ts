/** Keeps the application's files for starting without a network; a newer version is offered, never taken by itself. */
import { promiseTimeout } from '@vueuse/core'
import { ref, watch } from 'vue'
import { registerSW } from 'virtual:pwa-register'
import { useNotices } from '@/app/notices'
import { sounding } from '@/sound/sounding'

/** A page that stays open looks for a newer version so often. */
const LOOK_MS = 3_600_000
/** A version that has not taken over by then is fetched from the server instead of what is kept. */
const TAKES_OVER_MS = 5000

export function offerNewVersion(): void {
  const notices = useNotices()
  const waits = ref(false)
  let kept: ServiceWorkerRegistration | undefined
  const take = registerSW({
    onNeedRefresh: () => (waits.value = true),
    onRegisteredSW(_, registration) {
      kept = registration
      setInterval(() => void registration?.update().catch(() => {}), LOOK_MS)
    },
  })
  /** Where it waits for no page any more, it is only to be loaded. */
  async function takeIt(): Promise<void> {
    if (kept?.waiting) {
      void take(true) // loads the page as soon as it has taken over
      await promiseTimeout(TAKES_OVER_MS)
      await kept.unregister()
    }
    location.reload()
  }
  // Whoever plays is not spoken to.
  watch(() => waits.value && sounding.value === null, (now) => {
    if (now) notices.say('A newer version is here; without it all goes on as it is.', {
      label: 'Take it now', run: () => void takeIt(),
    })
  })
}
