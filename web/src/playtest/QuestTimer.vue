<script setup lang="ts">
import { computed } from 'vue'
import type { HudQuest } from './connection'

/** The least time that is left for something of a quest; nothing where none runs. */
const props = defineProps<{ quest: HudQuest }>()
/** With so little time left it is lit. */
const SOON_S = 10
const left = computed(() => {
  const times = props.quest.objectives.flatMap((o) => (o.left_s === null ? [] : [o.left_s]))
  return times.length ? Math.min(...times) : null
})
const countdown = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, '0')}`
</script>

<template>
  <b v-if="left !== null" class="left" :class="{ soon: left <= SOON_S }" role="timer">{{ countdown(left) }}</b>
</template>

<style scoped>
.left { float: right; font: 500 14px var(--mono); }
.left.soon { color: var(--glow); }
</style>
