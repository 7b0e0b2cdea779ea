<script setup lang="ts">
import { EFFECT_S } from '@/api/described'

/** One effect, drawn for less than a second where a step shows it. */
defineProps<{ what: string }>()
const lasts = `${EFFECT_S}s`
const RAYS = [0, 45, 90, 135, 180, 225, 270, 315]
</script>

<template>
  <g class="effect" :class="what">
    <template v-if="what === 'burst' || what === 'sparks'"
      ><path v-for="a in RAYS" :key="a" :d="what === 'burst' ? 'M6 0L34 0' : 'M14 0L24 0'" :transform="`rotate(${a})`"
    /></template>
    <template v-else-if="what === 'dust' || what === 'smoke'"
      ><circle
        v-for="a in RAYS.slice(0, 6)"
        :key="a"
        :r="what === 'smoke' ? 11 : 8"
        :cx="Math.cos(a) * 14"
        :cy="Math.sin(a) * 12"
    /></template>
    <template v-else><circle r="14" /><circle v-if="what === 'ripple'" r="24" /></template>
  </g>
</template>

<style scoped>
.effect {
  fill: none; stroke: var(--glow); stroke-width: 2.4; stroke-linecap: round;
  animation: show v-bind(lasts) ease-out forwards;
}
.dust, .smoke { fill: #8d98a080; stroke: none; }
.ripple { stroke: #7fa3bd; }
.glow { fill: #e8b44c40; }
@keyframes show { from { scale: 0.4; opacity: 1; } 70% { opacity: 0.9; } to { scale: 1.6; opacity: 0; } }
</style>
