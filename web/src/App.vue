<script setup lang="ts">
import { announced } from '@/app/announce'
import { keepFocus } from '@/app/keepFocus'
import { watchHands } from '@/app/keyboard'
import { useRegions } from '@/app/regions'
import NoticeCard from '@/app/NoticeCard.vue'
import ProgressStrip from '@/app/ProgressStrip.vue'

watchHands()
keepFocus()
useRegions()
</script>

<template>
  <v-app>
    <router-view />
    <span class="unseen" role="status" aria-live="polite">{{ announced }}</span>
    <ProgressStrip />
    <NoticeCard />
  </v-app>
</template>
