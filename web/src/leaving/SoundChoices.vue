<script setup lang="ts">
/** How something leaves as sound: the choices, remembered. */
import { RATES } from '@/wave/scored'
import { BITS } from '@/wave/wav'
import { asSound, PLAIN_SOUND } from './exporting'

defineExpose({ reset: () => (asSound.value = { ...PLAIN_SOUND }) })
</script>

<template>
  <fieldset>
    <legend>Files</legend>
    <label><input v-model="asSound.lanes" name="sound-files" type="radio" :value="false" /> the whole as one</label>
    <label><input v-model="asSound.lanes" name="sound-files" type="radio"
      :value="true" /> each lane as a file, in a .zip: together exactly the whole</label>
  </fieldset>
  <fieldset>
    <legend>At the end</legend>
    <label><input v-model="asSound.seamless" name="sound-end" type="radio"
      :value="false" /> it rings on: the file is longer by as much</label>
    <label><input v-model="asSound.seamless" name="sound-end" type="radio"
      :value="true" /> seamless: what rings on is laid under the beginning</label>
  </fieldset>
  <fieldset>
    <legend>Samples</legend>
    <div class="beside">
      <label v-for="rate in RATES" :key="rate"><input v-model="asSound.rate" name="sound-rate" type="radio"
        :value="rate" /> {{ rate / 1000 }} kHz</label>
      <span />
      <label v-for="bits in BITS" :key="bits"><input v-model="asSound.bits" name="sound-bits" type="radio"
        :value="bits" /> {{ bits }} bit</label>
    </div>
  </fieldset>
</template>

<style scoped>
.beside { display: flex; gap: 22px; }
.beside span { border-left: 1px solid var(--rule); }
</style>
