<script setup lang="ts">
/** Recordings of one's own, with the room that they take; those that nothing plays can be thrown away. */
import { computed, ref } from 'vue'
import { api, ask, type Schemas } from '@/api/client'
import { day } from '@/app/dates'
import { many } from '@/app/many'
import { useNotices } from '@/app/notices'

type Sound = Schemas['RecordingOut']
const props = defineProps<{ sounds: Sound[]; room: number }>()
const emit = defineEmits<{ thrown: [] }>()
const notices = useNotices()
const asked = ref('')
const megabytes = (bytes: number) => `${(bytes / 2 ** 20).toFixed(bytes < 10 * 2 ** 20 ? 1 : 0)} MB`
const taken = computed(() => props.sounds.reduce((sum, { size }) => sum + size, 0))
const nameOf = (sound: Sound) => sound.name || `A sound of ${day(sound.created)}`
function plays(sound: Sound): string {
  if (sound.now.length) return `played by ${sound.now.join(', ')}`
  return sound.past.length ? `only in the past of ${sound.past.join(', ')}` : 'played by nothing'
}
async function throwAway(sound: Sound): Promise<void> {
  if (asked.value !== sound.file) return void (asked.value = sound.file)
  await notices.attempt(async () => {
    await ask(api.DELETE('/api/sounds/{digest}', { params: { path: { digest: sound.file } } }))
    notices.say(`“${nameOf(sound)}” is thrown away.`)
  })
  asked.value = ''
  emit('thrown')
}
</script>

<template>
  <section aria-labelledby="sounds">
    <h2 id="sounds">Your own sounds</h2>
    <p v-if="!sounds.length">None yet: drop a recording on a drum lane, and the lane is heard by it.</p>
    <p v-else>{{ many(sounds.length, 'sound') }}, {{ megabytes(taken) }} of {{ megabytes(room) }}.</p>
    <ul v-if="sounds.length">
      <li v-for="sound in sounds" :key="sound.file">
        <span>{{ nameOf(sound) }}<br><span class="quiet">{{ megabytes(sound.size) }}, {{ plays(sound) }}</span></span>
        <span v-if="sound.now.length" class="quiet">in use</span>
        <v-btn v-else size="small" :color="asked === sound.file ? 'error' : undefined"
          :aria-label="`Throw ${nameOf(sound)} away`" @click="throwAway(sound)" @blur="asked = ''">{{
            asked === sound.file ? 'For ever?' : 'Throw away' }}</v-btn>
      </li>
    </ul>
  </section>
</template>
