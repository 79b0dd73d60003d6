/**
 * MIDI files that come in: looked at one after another, and taken as a clip, as lanes, or as the recipe that travels in
 * one.
 */
import { defineStore } from 'pinia'
import { computed, ref, shallowRef } from 'vue'
import { api, ask, Refusal, type Schemas } from '@/api/client'
import { insist, newKey } from '@/api/insist'
import { useNotices } from '@/app/notices'
import { useProgress } from '@/app/progress'
import { STATED } from '@/generated/stated'
import { useShelf } from '@/shelf/shelf'

export type Song = Schemas['SongOut']
export type Become = Schemas['TakeMidiIn']['become']

const LONGEST_NAME = 80
const raw = { bodySerializer: (body: unknown) => body as string, headers: { 'Content-Type': 'audio/midi' } }

export const isMidi = (file: File) => /\.(mid|midi|smf|kar)$/i.test(file.name) || /midi/.test(file.type)

export const useArriving = defineStore('arriving', () => {
  const notices = useNotices()
  const progress = useProgress()
  const shelf = useShelf()
  const files = shallowRef<File[]>([])
  const song = shallowRef<Song | null>(null)
  /** How many files came with the one that is looked at, and which of them it is. */
  const count = ref(0)
  const place = computed(() => count.value - files.value.length + 1)
  const file = computed(() => files.value[0] ?? null)
  const name = computed(() => file.value?.name.replace(/\.[^.]+$/, '').trim().slice(0, LONGEST_NAME) || 'clip')

  /** Look at files, one after another. */
  async function arrive(found: File[]): Promise<void> {
    files.value = found
    count.value = found.length
    await look()
  }
  async function look(): Promise<void> {
    song.value = null
    const wanted = file.value
    if (!wanted) return
    try {
      song.value = await ask(api.POST('/api/midi/look', { body: sent(wanted), ...raw }))
    } catch (problem) {
      notices.say(`“${wanted.name}”: ${problem instanceof Refusal ? problem.message : 'it cannot be read.'}`)
      await next()
    }
  }
  const sent = (wanted: File): string => {
    if (wanted.size > STATED.midiBytes) {
      throw new Refusal(`A MIDI file takes up to ${STATED.midiBytes / 2 ** 20} MB.`, 422)
    }
    return wanted as unknown as string
  }
  /** Leave a file aside, or be done with it. */
  async function next(): Promise<void> {
    files.value = files.value.slice(1)
    await look()
  }
  function end(): void {
    files.value = []
    song.value = null
  }

  async function send(wanted: File, query: Omit<Schemas['TakeMidiIn'], 'key'>): Promise<Schemas['Told']> {
    const key = newKey()
    return insist(
      () => api.POST('/api/pieces/{piece_id}/midi', {
        params: { path: { piece_id: shelf.piece }, query: { ...query, key } }, body: sent(wanted), ...raw,
      }),
    )
  }
  /** Take the file; resolves to what it has become, or null where that was refused. */
  async function take(become: Become, parts: number[], bars: [number, number] | null): Promise<Schemas['Told'] | null> {
    const wanted = file.value
    if (!wanted || !song.value) return null
    let told: Schemas['Told'] | null = null
    const all = parts.length === song.value.parts.length
    await notices.attempt(async () => {
      told = await send(wanted, {
        name: name.value, become, parts: all || become === 'recipe' ? '' : parts.join(','),
        first: bars?.[0] ?? null, last: bars?.[1] ?? null,
      })
      shelf.add(told.clip)
    })
    if (told) await next()
    return told
  }
  /** Take this file and all that wait as clips, as they are. */
  async function takeAll(): Promise<void> {
    const waiting = files.value
    end()
    const refused: string[] = []
    const taken = await progress.each('Taking in', waiting, async (wanted) => {
      try {
        const told = await send(wanted, {
          name: wanted.name.replace(/\.[^.]+$/, '').slice(0, LONGEST_NAME), become: 'clip',
        })
        shelf.add(told.clip)
        return 1
      } catch (problem) {
        refused.push(`“${wanted.name}”: ${problem instanceof Refusal ? problem.message : 'it cannot be read.'}`)
        return 0
      }
    })
    const kept = taken.filter(Boolean).length
    notices.say(
      [`${kept} ${kept === 1 ? 'file lies' : 'files lie'} on the Shelf as clips.`, ...refused.slice(0, 2)].join(' '),
    )
  }

  return { file, name, song, count, place, arrive, next, end, take, takeAll }
})
