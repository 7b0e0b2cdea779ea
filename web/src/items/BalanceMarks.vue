<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** How many can be had, filled, against how many are asked for, framed; those that nobody gives are dashed. */
const props = defineProps<{ balance: Schemas['BalanceShape']; asked?: number; label?: string }>()
const SHOWN = 12
const FEW = 6
const most = computed(() => props.balance.most)
/** How many are asked for: in all, or by one quest. */
const asked = computed(() => props.asked ?? props.balance.all_asked)
const drawn = computed(() =>
  props.asked === undefined ? Math.max(most.value ?? Math.max(FEW, asked.value), asked.value) : asked.value,
)
const endless = computed(() => most.value === null && props.asked === undefined)
const words = computed(
  () => props.label ?? `${most.value ?? 'any number'} can be had, ${props.balance.all_asked} asked for`,
)
const marks = computed(() =>
  Array.from({ length: Math.min(drawn.value, SHOWN) }, (_, i) => ({
    had: most.value === null || i < most.value,
    asked: i < asked.value,
  })),
)
const rest = computed(() => drawn.value - marks.value.length)
const width = computed(() => marks.value.length * 15 + (endless.value ? 16 : 2))
</script>

<template>
  <span class="balance">
    <svg :width="width" height="18" :viewBox="`0 0 ${width} 18`" role="img" :aria-label="words">
      <g v-for="(mark, i) in marks" :key="i" :transform="`translate(${i * 15 + 1} 2)`">
        <rect
          v-if="mark.asked"
          class="frame"
          :class="{ lacking: !mark.had }"
          x="0.5"
          y="0.5"
          width="13"
          height="13"
          rx="3"
        />
        <rect v-if="mark.had" class="had" x="3" y="3" width="8" height="8" rx="1" />
      </g>
      <path v-if="endless" class="on" :d="`M${marks.length * 15 + 4} 4l5 5l-5 5`" />
    </svg>
    <small v-if="rest > 0">+{{ rest }}</small>
  </span>
</template>

<style scoped>
.balance { display: inline-flex; align-items: center; gap: 4px; color: var(--pencil); }
.had { fill: var(--pencil); }
.frame { fill: none; stroke: var(--ink); stroke-width: 1.5; }
.frame.lacking { stroke: var(--amber); stroke-dasharray: 3 2; }
.on { fill: none; stroke: var(--pencil); stroke-width: 1.8; }
</style>
