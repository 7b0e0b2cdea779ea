<script setup lang="ts">
import type { Point } from './geometry'

/** The spot of the floor that was clicked: a walk begins there. */
defineProps<{ at: Point }>()
</script>

<template>
  <g class="spot" :transform="`translate(${at.x} ${at.y})`" data-spot>
    <g class="fixed">
      <path d="M-8 0H-3M3 0H8M0-8V-3M0 3V8" />
      <circle r="2.5" />
    </g>
  </g>
</template>

<style scoped>
.spot { pointer-events: none; }
path { stroke: var(--ink); stroke-width: 2; fill: none; } circle { fill: var(--ink); }
</style>
