<script setup lang="ts">
import { computed, ref } from 'vue'
import type { RowOf } from '@/api/client'
import { snapped, type Point } from './geometry'
import { cornersOf, exitEndOf, sidesOf } from './handles'
import type { Label } from './labels'
import { rounded, track, type WorldAt } from './track'

/** The corners of the selected area or wall, and the end of the selected exit, above everything else on the plan. */
const props = defineProps<{
  level: RowOf<'level'>
  row: RowOf<'area'> | RowOf<'wall'> | RowOf<'exit'>
  labels: Record<string, Label>
  worldAt: WorldAt
}>()
const emit = defineEmits<{ row: [values: Record<string, unknown>, done: boolean]; away: [event: PointerEvent] }>()

const points = computed<Point[]>(() => (props.row.type === 'exit' ? [] : cornersOf(props.row)))
const end = computed(() => (props.row.type === 'exit' ? exitEndOf(props.row, props.level.key) : null))
const held = ref(-1)
const betweens = computed(() => (props.row.type === 'exit' ? [] : sidesOf(props.row)))

function put(next: Point[], done: boolean): void {
  const list = next.map((p) => [rounded(p.x, 1000), rounded(p.y, 1000)])
  emit('row', props.row.type === 'area' ? { outline: list } : { points: list }, done)
}
function grabCorner(event: PointerEvent, i: number, from = points.value): void {
  held.value = i
  const moved = (e: PointerEvent): Point[] => {
    const p = props.worldAt(e)
    return from.map((old, n) => (n === i ? { x: snapped(p.x, e.shiftKey), y: snapped(p.y, e.shiftKey) } : old))
  }
  track(
    event,
    (e) => put(moved(e), false),
    (e) => put(moved(e), true),
  )
}
function grabBetween(event: PointerEvent, i: number, at: Point): void {
  grabCorner(event, i + 1, [...points.value.slice(0, i + 1), at, ...points.value.slice(i + 1)])
}
const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}
function keyCorner(event: KeyboardEvent, i: number): void {
  const by = ARROWS[event.key]
  const least = props.row.type === 'area' ? 3 : 2
  if (by)
    put(
      points.value.map((p, n) =>
        n === i
          ? { x: p.x + by[0] * (event.shiftKey ? 0.05 : 0.25), y: p.y + by[1] * (event.shiftKey ? 0.05 : 0.25) }
          : p,
      ),
      true,
    )
  else if (event.key === 'Delete' && points.value.length > least)
    put(
      points.value.filter((_, n) => n !== i),
      true,
    )
  else return
  event.preventDefault()
  event.stopPropagation()
}
/** The end of an exit: dragged over the plan, or onto the name of another level. */
function grabEnd(event: PointerEvent): void {
  const at = (e: PointerEvent): Record<string, unknown> => {
    const p = props.worldAt(e)
    return { to_level: props.level.key, to_x_m: snapped(p.x, e.shiftKey), to_y_m: snapped(p.y, e.shiftKey) }
  }
  track(
    event,
    (e) => emit('row', at(e), false),
    (e) => {
      const tab = document.elementFromPoint(e.clientX, e.clientY)?.closest('[data-level]')
      if (tab) emit('away', e)
      else emit('row', at(e), true)
    },
  )
}
</script>

<template>
  <g class="grab corners">
    <g v-if="end" :transform="`translate(${end.at.x} ${end.at.y})`">
      <g class="fixed"
        ><circle
          class="ink-handle"
          r="6"
          role="slider"
          tabindex="-1"
          aria-label="Where the exit leads: drag it over the plan, or onto the name of another level"
          aria-valuenow="0"
          data-handle="exit-end"
          @pointerdown="grabEnd"
        /><text
          class="end-says"
          :x="labels[end.key]?.dx"
          :y="labels[end.key]?.dy"
          :text-anchor="labels[end.key]?.anchor"
          >{{ end.says }}</text
        ></g
      >
    </g>
    <g v-for="b in betweens" :key="`b${b.i}`" :transform="`translate(${b.at.x} ${b.at.y})`"
      ><g class="fixed"
        ><circle class="between" r="4" aria-hidden="true" @pointerdown="(e) => grabBetween(e, b.i, b.at)" /><text
          class="end-says"
          :x="labels[b.key]?.dx"
          :y="labels[b.key]?.dy"
          :text-anchor="labels[b.key]?.anchor"
          >{{ b.says }}</text
        ></g
      ></g
    >
    <g v-for="(p, i) in points" :key="i" :transform="`translate(${p.x} ${p.y})`"
      ><rect
        class="ink-handle fixed"
        x="-5"
        y="-5"
        width="10"
        height="10"
        role="slider"
        tabindex="0"
        :aria-label="`Corner ${i + 1}`"
        :aria-valuenow="i"
        :data-corner="i"
        @pointerdown="(e) => grabCorner(e, i)"
        @keydown="(e) => keyCorner(e, i)"
    /></g>
  </g>
</template>
