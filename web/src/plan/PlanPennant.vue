<script setup lang="ts">
import { computed } from 'vue'
import { counted } from '@/parts/plural'
import { saidOf, type Mark } from '@/stores/findings'

/** The pennant of a finding on the plan, its mast standing at a point: full, outlined, or the mast alone, by weight. */
const props = defineProps<{ mark: Mark; x?: number; y?: number }>()
const says = computed(() => {
  const { mark } = props
  return `${mark.weight}: ${saidOf(mark)}${mark.count > 1 ? `, and ${counted(mark.count - 1, 'finding')} more` : ''}`
})
</script>

<template>
  <g
    class="pennant"
    :class="mark.weight.replaceAll(' ', '-')"
    :data-pennant="mark.count"
    :transform="`translate(${x ?? 0} ${y ?? 0})`"
  >
    <title>{{ says }}</title>
    <path class="mast" d="M0 0V-20" />
    <path :d="mark.weight === 'worth a look' ? 'M0-20H13' : 'M0-20H16L12-15L16-10H0'" />
    <text v-if="mark.count > 1" x="19" y="-11">{{ mark.count }}</text>
  </g>
</template>

<style>
.plan .pennant path { fill: var(--paper); stroke: var(--amber); stroke-width: 1.8; stroke-linejoin: round; }
.plan .pennant.stops-it path { fill: var(--amber); } .plan .pennant.worth-a-look path { fill: none; }
.plan .pennant text {
  font: 700 11.5px var(--text); fill: var(--amber); paint-order: stroke; stroke: var(--paper); stroke-width: 3px;
}
</style>
