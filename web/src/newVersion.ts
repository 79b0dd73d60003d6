/** Keeps the application's files for starting without a network; a newer version is offered, never taken by itself. */
import { ref, watch } from 'vue'
import { registerSW } from 'virtual:pwa-register'
import { useNotices } from '@/app/notices'
import { sounding } from '@/sound/sounding'

/** A page that stays open looks for a newer version so often. */
const LOOK_MS = 3_600_000

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
  const takeIt = () => (kept && !kept.waiting ? location.reload() : void take(true))
  // Whoever plays is not spoken to.
  watch(() => waits.value && sounding.value === null, (now) => {
    if (now) notices.say('A newer version is here; without it all goes on as it is.', {
      label: 'Take it now', run: takeIt,
    })
  })
}
