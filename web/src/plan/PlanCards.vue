<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import { useCards } from '@/stores/cards'
import { snapped } from './geometry'
import { track, type WorldAt } from './track'

/** The start cards of a level, each where it begins: a click walks from there, a drag lays it elsewhere. */
const props = defineProps<{
  level: RowOf<'level'>
  worldAt: WorldAt
  /** What is selected: its handles need the room about it. */
  chosen: { x_m: number; y_m: number } | undefined
}>()
const ROOM_M = 2
const emit = defineEmits<{ row: [id: number, values: Record<string, unknown>, done: boolean] }>()
const cards = useCards()
const route = useRoute()
const router = useRouter()
const free = ({ x_m, y_m }: { x_m: number; y_m: number }): boolean =>
  !props.chosen || Math.hypot(x_m - props.chosen.x_m, y_m - props.chosen.y_m) > ROOM_M
const here = computed(() =>
  cards.all.filter((card) => card.values.in_level === props.level.key && free(card.values)),
)

const AWAY_PX = 17
/** On the screen a card lies behind who begins there: what is looked at stays free. */
function behind(facing_deg: number): string {
  const turn = (facing_deg * Math.PI) / 180
  return `translate(${-Math.cos(turn) * AWAY_PX} ${Math.sin(turn) * AWAY_PX})`
}
function walk(card: RowOf<'card'>): void {
  void router.push(cards.walkFrom(card, route))
}
function grab(event: PointerEvent, card: RowOf<'card'>): void {
  const [from, { x_m, y_m }] = [props.worldAt(event), card.values]
  let moved = false
  const at = (e: PointerEvent): Record<string, number> => {
    const now = props.worldAt(e)
    return { x_m: snapped(x_m + now.x - from.x, e.shiftKey), y_m: snapped(y_m + now.y - from.y, e.shiftKey) }
  }
  track(
    event,
    (e) => {
      if (!moved && Math.hypot(e.clientX - event.clientX, e.clientY - event.clientY) < 4) return
      moved = true
      emit('row', card.id, at(e), false)
    },
    (e) => (moved ? emit('row', card.id, at(e), true) : walk(card)),
  )
}
</script>

<template>
  <g
    v-for="card in here"
    :key="card.id"
    class="grab start-card"
    :transform="`translate(${card.values.x_m} ${card.values.y_m})`"
    tabindex="0"
    role="link"
    :data-card="card.key"
    :aria-label="`${card.values.digit} ${card.values.name}: walk from here`"
    @pointerdown="grab($event, card)"
    @keydown.enter.exact.prevent.stop="walk(card)"
  >
    <title>{{ `${card.values.name}: walk from here` }}</title>
    <g class="fixed">
      <g :transform="behind(card.values.facing_deg)">
        <path d="M-7-9H3L8-4V9H-7Z" />
        <path class="fold" d="M3-9V-4H8" />
        <text v-if="card.values.digit" y="6">{{ card.values.digit }}</text>
        <path v-else class="fold" d="M-3 1H4M-3 4H4" />
      </g>
      <circle r="2" />
    </g>
  </g>
</template>

<style>
.plan .start-card path { fill: var(--page); stroke: var(--ink); stroke-width: 1.3; stroke-linejoin: round; }
.plan .start-card .fold { fill: none; }
.plan .start-card circle { fill: var(--ink); }
.plan .start-card text { font: 700 11.5px var(--text); fill: var(--ink); text-anchor: middle; }
.plan .start-card:hover path { fill: var(--shade); }
.plan .start-card:hover .fold { fill: none; }
</style>
