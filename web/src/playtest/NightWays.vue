<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** Where a kept walk led, and where it leads now, up to where the two part ways. */
const props = defineProps<{
  level: string
  /** Pixels a metre. */
  scale: number
  was: Schemas['WayPoint'][]
  now: Schemas['WayPoint'][]
  parting: Schemas['PartingShape'] | null
}>()
type Point = Schemas['WayPoint']
/** The bends in this level, in strokes: what lies in another level ends one. */
function strokes(way: Point[]): string[] {
  const found: Point[][] = [[]]
  for (const one of way) {
    if (one.level === props.level) found[found.length - 1]?.push(one)
    else if (found[found.length - 1]?.length) found.push([])
  }
  return found.filter((s) => s.length > 1).map((s) => `M${s.map((p) => `${p.x_m} ${p.y_m}`).join('L')}`)
}
/** The bend of a way that is nearest to a place; its end where there is no such place. */
function bendAt(way: Point[], at: Point | null | undefined): number {
  if (!at) return way.length - 1
  const gaps = way.map((p) => (p.level === at.level ? Math.hypot(p.x_m - at.x_m, p.y_m - at.y_m) : Infinity))
  return Math.max(gaps.indexOf(Math.min(...gaps)), 0)
}
/** So many bends of the kept walk are drawn beyond where the two part: where it was bound for. */
const BEYOND = 7
const on = computed(() => {
  const from = bendAt(props.was, props.parting?.was ?? props.parting?.now)
  return props.was.slice(from, from + BEYOND)
})
const old = computed(() => strokes(on.value))
const fresh = computed(() => strokes(props.now.slice(0, bendAt(props.now, props.parting?.now) + 1)))
const end = computed(() => on.value.filter((p) => p.level === props.level).at(-1))
const here = computed(() => {
  const one = props.parting?.now ?? props.parting?.was
  return one && one.level === props.level ? one : null
})
const MOST = 46
const short = (text: string): string => (text.length > MOST ? `${text.slice(0, MOST)}…` : text)
const CARD = 330
</script>

<template>
  <g class="ways">
    <path v-for="(d, i) in old" :key="`o${i}`" class="old" :d="d" />
    <path v-for="(d, i) in fresh" :key="`n${i}`" class="fresh" :d="d" />
    <g v-if="end && parting" :transform="`translate(${end.x_m} ${end.y_m}) scale(${1 / scale} ${-1 / scale})`">
      <text class="quiet" dy="22" text-anchor="middle">the kept walk went on here</text>
    </g>
    <g v-if="here" :transform="`translate(${here.x_m} ${here.y_m}) scale(${1 / scale} ${-1 / scale})`" data-parts>
      <circle r="12" />
      <path class="lead" d="M9-9L34-36" />
      <g transform="translate(34 -84)">
        <rect :width="CARD" height="48" rx="6" />
        <text class="head" x="12" y="19">They part ways at {{ here.at }}</text>
        <text x="12" y="38">{{ short(parting?.says ?? '') }}</text>
      </g>
    </g>
  </g>
</template>

<style scoped>
.ways { pointer-events: none; }
.ways > path { fill: none; vector-effect: non-scaling-stroke; stroke-linejoin: round; }
.old { stroke: #8d99a3; stroke-width: 2; stroke-dasharray: 5 6; }
.fresh { stroke: var(--chalk); stroke-width: 2.4; }
circle { fill: none; stroke: var(--glow); stroke-width: 3; }
.lead { stroke: var(--glow); stroke-width: 1.5; }
rect { fill: #0e1216; stroke: var(--glow); }
text { fill: var(--chalk); font: 13px var(--text); } .head { fill: var(--glow); font-weight: 650; }
.quiet { fill: #a5b0b9; font-size: 12.5px; paint-order: stroke; stroke: var(--floor); stroke-width: 3px; }
</style>
