import { createPinia, setActivePinia } from 'pinia'
import { nextTick } from 'vue'
import { expect, it, vi } from 'vitest'
import { useNotices } from '@/app/notices'
import { begin, end, type Sounding } from '@/sound/sounding'
import { offerNewVersion } from './newVersion'

const { worker } = vi.hoisted(() => ({
  worker: { take: vi.fn(), came: () => {}, kept: { waiting: {}, update: vi.fn(), unregister: vi.fn() } },
}))
interface Told { onNeedRefresh: () => void; onRegisteredSW: (url: string, kept: unknown) => void }
vi.mock('virtual:pwa-register', () => ({
  registerSW: ({ onNeedRefresh, onRegisteredSW }: Told) => {
    worker.came = onNeedRefresh
    onRegisteredSW('/sw.js', worker.kept)
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
  vi.useFakeTimers()
  const load = vi.fn()
  vi.stubGlobal('location', { reload: load })
  notices.current?.action?.run()
  expect(worker.take).toHaveBeenCalledWith(true)
  await vi.advanceTimersByTimeAsync(4900)
  expect(load).not.toHaveBeenCalled()
  // What does not take over is given up for what the server has.
  await vi.advanceTimersByTimeAsync(200)
  expect(worker.kept.unregister).toHaveBeenCalledOnce()
  expect(load).toHaveBeenCalledOnce()
  vi.useRealTimers()
  vi.unstubAllGlobals()
})
