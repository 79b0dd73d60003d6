<script setup lang="ts">
import { announced } from '@/app/announce'
import { keepFocus } from '@/app/keepFocus'
import { watchLongPresses } from '@/app/longPress'
import { watchHands } from '@/app/keyboard'
import { useRegions } from '@/app/regions'
import NoticeCard from '@/app/NoticeCard.vue'
import PressHint from '@/app/PressHint.vue'
import ProgressStrip from '@/app/ProgressStrip.vue'

watchHands()
watchLongPresses()
keepFocus()
useRegions()
</script>

<template>
  <v-app>
    <!-- One link after another is another page. -->
    <router-view v-slot="{ Component, route }">
      <component :is="Component" :key="String(route.params.token)" />
    </router-view>
    <span class="unseen" role="status" aria-live="polite">{{ announced }}</span>
    <ProgressStrip />
    <NoticeCard />
    <PressHint />
  </v-app>
</template>
