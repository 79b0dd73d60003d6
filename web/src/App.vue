<script setup lang="ts">
import { announced } from '@/app/announce'
import { keepFocus } from '@/app/keepFocus'
import { watchHands } from '@/app/keyboard'
import { useRegions } from '@/app/regions'
import { useNotices } from '@/app/notices'
import ProgressStrip from '@/app/ProgressStrip.vue'

const notices = useNotices()
watchHands()
keepFocus()
useRegions()
function act(): void {
  const action = notices.current?.action
  notices.dismiss()
  action?.run()
}
</script>

<template>
  <v-app>
    <router-view />
    <span class="unseen" role="status" aria-live="polite">{{ announced }}</span>
    <ProgressStrip />
    <!-- Another sentence is another bar, so that each stays for its own time. -->
    <v-snackbar
      :key="notices.said"
      :model-value="notices.current !== null"
      :timeout="notices.current?.lasting ? -1 : 7000"
      location="bottom"
      color="#2b2240"
      class="notice"
      @update:model-value="(open: boolean) => open || notices.dismiss()"
    >
      <span data-notice>{{ notices.current?.text }}</span>
      <template #actions>
        <v-btn v-if="notices.current?.action" color="#f2bd4b" @click="act">
          {{ notices.current.action.label }}
        </v-btn>
        <v-btn @click="notices.dismiss">Close</v-btn>
      </template>
    </v-snackbar>
  </v-app>
</template>
