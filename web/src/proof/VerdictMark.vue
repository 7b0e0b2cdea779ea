<script setup lang="ts">
import { computed } from 'vue'
import type { Verdict } from '@/stores/proof'
import { isGood } from './words'

/** The mark of a verdict: a tick in a ring is good, a lozenge weighs, a broken ring is not decided. */
const props = defineProps<{ verdict: Pick<Verdict, 'what' | 'answer' | 'weight'> }>()
const look = computed(() => {
  if (props.verdict.answer === 'undecided') return 'open'
  if (props.verdict.answer === 'coming') return 'none'
  if (isGood(props.verdict)) return props.verdict.what === 'can' ? 'good' : 'none'
  return props.verdict.weight ? 'weighs' : 'none'
})
</script>

<template>
  <svg v-if="look !== 'none'" :class="look" width="17" height="17" viewBox="0 0 17 17" aria-hidden="true">
    <template v-if="look === 'good'">
      <circle cx="8.5" cy="8.5" r="7" />
      <path d="M5 8.8l2.4 2.4l4.6-5" />
    </template>
    <circle v-else-if="look === 'open'" cx="8.5" cy="8.5" r="7" stroke-dasharray="3 2.5" />
    <template v-else>
      <path class="full" d="M8.5 1L16 8.5L8.5 16L1 8.5Z" />
      <path class="sign" d="M8.5 5v4M8.5 11.2v.4" />
    </template>
  </svg>
</template>

<style scoped>
svg { flex: none; fill: none; stroke: currentColor; stroke-width: 1.8; stroke-linecap: round; stroke-linejoin: round; }
.good { color: var(--green); }
.weighs, .open { color: var(--amber); }
.full { fill: currentColor; }
.sign { stroke: var(--page); stroke-width: 2; }
</style>
