<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { boundsOf, outlinePath } from '@/plan/geometry'

/** The first level of a project, small: areas as paper, things as dots. */
const props = defineProps<{ plan: Schemas['SmallPlan'] }>()
const PADDING_M = 0.6
const box = computed(() => {
  const corners = props.plan.areas.flatMap((a) => a.outline.map(([x = 0, y = 0]) => ({ x, y })))
  const { left, bottom, right, top } = boundsOf(corners, PADDING_M)
  return { view: `${left} ${-top} ${right - left} ${top - bottom}`, dot: (right - left) / 70 }
})
</script>

<template>
  <svg class="small-plan" :viewBox="box.view" aria-hidden="true" preserveAspectRatio="xMidYMid meet">
    <g transform="scale(1 -1)">
      <path
        v-for="(area, i) in plan.areas"
        :key="i"
        :d="outlinePath(area.outline, true)"
        :class="`tint-${area.tint}`"
      />
      <circle v-for="([x, y], i) in plan.things" :key="`t${i}`" :cx="x" :cy="y" :r="box.dot" />
    </g>
  </svg>
</template>

<style scoped>
.small-plan {
  width: 108px; height: 72px; flex: none; background: var(--paper); border: 1px solid var(--rules);
  border-radius: 6px;
}
path { stroke: var(--pencil); stroke-width: 1; vector-effect: non-scaling-stroke; }
circle { fill: var(--ink); }
</style>
