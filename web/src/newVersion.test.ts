import { createPinia, setActivePinia } from 'pinia'
import { nextTick } from 'vue'
import { expect, it, vi } from 'vitest'
import { useNotices } from '@/app/notices'
import { begin, end, type Sounding } from '@/sound/sounding'
import { offerNewVersion } from './newVersion'

const { worker } = vi.hoisted(() => ({ worker: { take: vi.fn(), came: () => {} } }))
vi.mock('virtual:pwa-register', () => ({
  registerSW: ({ onNeedRefresh }: { onNeedRefresh: () => void }) => {
    worker.came = onNeedRefresh
    return worker.take
  },
}))

it('offers a newer version, but to nobody who plays, and takes none by itself', async () => {
  setActivePinia(createPinia())
  const notices = useNotices()
  const playing: Sounding = { what: 'pattern', stop: () => {} }
  offerNewVersion()
  begin(playing)
  worker.came()
  await nextTick()
  expect(notices.current).toBeNull()
  end(playing)
  await nextTick()
  expect(notices.current?.text).toContain('A newer version is here')
  expect(worker.take).not.toHaveBeenCalled()
  notices.current?.action?.run()
  expect(worker.take).toHaveBeenCalledWith(true)
})
