/** Where the browser gives no sound while something is played: say so, with what to do about it. */
import { watch } from 'vue'
import { useNotices } from '@/app/notices'
import { everHeard, silent, supported } from './audioClock'
import { haveSound } from './output'
import { sounding } from './sounding'

function told(): string {
  if (!supported) return 'This browser has no sound at all; the picture, ports and the Trail go on without it.'
  return everHeard.value
    ? 'The sound was taken away: see to the output in the system, or end what else uses it. All else goes on, and sound joins in.'
    : 'The browser gives no sound yet: allow this page to sound, and choose an output in the system. All else goes on, and sound joins in.'
}

export function useNoSound(): void {
  const notices = useNotices()
  watch(() => silent.value && sounding.value !== null, (now) => {
    if (now) notices.say(told(), supported ? { label: 'Try again', run: () => void haveSound() } : undefined)
  })
}
