<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import { outlinePath, snapped } from './geometry'
import type { Label } from './labels'
import PlanPennant from './PlanPennant.vue'
import { track, type WorldAt } from './track'
import { useFindings } from '@/stores/findings'

/** The floor of a level: areas, walls and exits, and the corners of what is selected. */
const props = defineProps<{
  level: RowOf<'level'>
  areas: readonly RowOf<'area'>[]
  walls: readonly RowOf<'wall'>[]
  exits: readonly RowOf<'exit'>[]
  selected: string
  worldAt: WorldAt
  labels: Map<number, Label>
}>()
const findings = useFindings()
const emit = defineEmits<{ select: [key: string]; row: [id: number, values: Record<string, unknown>, done: boolean] }>()

function grabExit(event: PointerEvent, row: RowOf<'exit'>): void {
  const from = props.worldAt(event)
  let moved = false
  const at = (e: PointerEvent): Record<string, number> => {
    const now = props.worldAt(e)
    return {
      x_m: snapped(row.values.x_m + now.x - from.x, e.shiftKey),
      y_m: snapped(row.values.y_m + now.y - from.y, e.shiftKey),
    }
  }
  track(
    event,
    (e) => {
      if (!moved && Math.hypot(e.clientX - event.clientX, e.clientY - event.clientY) < 4) return
      moved = true
      emit('row', row.id, at(e), false)
    },
    (e) => (moved ? emit('row', row.id, at(e), true) : emit('select', row.key)),
  )
}
const here = computed(() => props.exits.filter((e) => e.values.to_level === props.level.key))
</script>

<template>
  <g>
    <g v-for="area in areas" :key="area.id" pointer-events="none">
      <path
        :d="outlinePath(area.values.outline, true)"
        :class="`tint-${area.values.tint}`"
        :stroke="area.key === selected ? 'var(--ink)' : '#d9d0bd'"
        :stroke-width="area.key === selected ? 0.08 : 0.03"
      />
      <path v-if="area.values.tint === 'water'" :d="outlinePath(area.values.outline, true)" fill="url(#water)" />
    </g>
    <g class="walls grab">
      <path
        v-for="wall in walls"
        :key="wall.id"
        :d="outlinePath(wall.values.points, false)"
        :class="{ glass: wall.values.glass, low: wall.values.height_m !== null, chosen: wall.key === selected }"
        :data-wall="wall.key"
        @click="emit('select', wall.key)"
      />
    </g>
    <g
      v-for="row in exits"
      :key="row.id"
      class="grab exit"
      :class="{ chosen: row.key === selected, shut: !row.values.open_at_start, lost: !row.values.to_level }"
      @pointerdown="(e) => grabExit(e, row)"
    >
      <g :transform="`translate(${row.values.x_m} ${row.values.y_m}) rotate(${row.values.turn_deg})`">
        <rect
          :x="-row.values.width_m / 2"
          :y="-row.values.depth_m / 2"
          :width="row.values.width_m"
          :height="row.values.depth_m"
        />
      </g>
      <g :transform="`translate(${row.values.x_m} ${row.values.y_m})`"
        ><g
          class="fixed"
          role="button"
          tabindex="0"
          :aria-label="`Exit: ${row.values.name}`"
          :data-exit="row.key"
          @keydown.enter.exact.prevent.stop="emit('select', row.key)"
          ><PlanPennant v-if="findings.marks.has(row.id)" :mark="findings.marks.get(row.id)!" :y="-6" /><path
            class="sign"
            d="M-6 4L0 -4L6 4M0 -4V9"
          /><text
            v-if="labels.get(row.id)"
            :x="labels.get(row.id)!.dx"
            :y="labels.get(row.id)!.dy"
            :text-anchor="labels.get(row.id)!.anchor"
            >{{ row.values.name }}</text
          ></g
        ></g
      >
    </g>
    <g v-for="row in here" :key="`w${row.id}`" pointer-events="none"
      ><path class="leads" :d="`M${row.values.x_m} ${row.values.y_m}L${row.values.to_x_m} ${row.values.to_y_m}`"
    /></g>
  </g>
</template>

<style>
.plan .walls path { pointer-events: stroke; cursor: pointer; }
.plan .walls path.low { stroke-dasharray: 0.3 0.3; }
.plan .walls path.chosen { stroke-width: 0.34; }
.plan .exit { cursor: grab; }
.plan .exit rect {
  fill: #22303c12; stroke: var(--ink); stroke-width: 1.3; stroke-dasharray: 3 3;
  vector-effect: non-scaling-stroke;
}
.plan .exit.shut rect { stroke-dasharray: none; fill: #22303c26; } .plan .exit.lost rect { stroke: var(--amber); }
.plan .exit.chosen rect { stroke-width: 3; } .plan .exit.chosen text { font-weight: 700; }
.plan .exit .sign { fill: none; stroke: var(--ink); stroke-width: 1.8; }
.plan .exit text { paint-order: stroke; stroke: var(--paper); stroke-width: 4px; font-size: 12.5px; }
.plan .leads {
  fill: none; stroke: var(--ink); stroke-width: 1.2; stroke-dasharray: 1 5; stroke-linecap: round;
  vector-effect: non-scaling-stroke;
}
.plan .ink-handle { fill: var(--page); stroke: var(--ink); stroke-width: 2; cursor: grab; }
.plan .between { fill: var(--paper); stroke: var(--pencil); stroke-width: 1.4; cursor: copy; }
.plan .end-says { font: 12px var(--mono); paint-order: stroke; stroke: var(--paper); stroke-width: 4px; }
</style>
