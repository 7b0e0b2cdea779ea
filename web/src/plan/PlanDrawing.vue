<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { select } from 'd3-selection'
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom'
import { computed, onMounted, ref, watch } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import type { Placed } from './designs'
import { boundsOf, labelSides, labelText, outlinePath, overlaps, reachMiddle, reachPath, snapped, turned, type Point } from './geometry'
import PlanObject from './PlanObject.vue'
import type { Shown } from './showing'

const props = defineProps<{
  level: RowOf<'level'>
  areas: RowOf<'area'>[]
  walls: RowOf<'wall'>[]
  objects: Placed[]
  selected: string
  live: Schemas['LiveReading'] | null
  asIf: boolean
  shown: Shown | null
}>()
const emit = defineEmits<{
  select: [key: string]
  move: [key: string, at: Point, done: boolean]
  reach: [key: string, radius: number, done: boolean]
  turn: [key: string, deg: number, done: boolean]
  start: [at: Point]
  floor: [at: Point, screen: Point]
}>()

const view = ref<HTMLElement | null>(null)
const carrier = ref<HTMLElement | null>(null)
const svg = ref<SVGSVGElement | null>(null)
const world = ref<SVGGElement | null>(null)
const { width, height } = useElementSize(view)
/** The drawing is larger than the view by this much on each side, so that panning only moves a finished picture. */
const MARGIN = 300
const scale = ref(23)
const labelScale = ref(23)
const drawn = ref({ x: 0, y: 0, k: 23 })
const dragStart = ref<Point | null>(null)
const pointer = ref<Point>({ x: 0, y: 0 })

const bounds = computed(() => {
  const corners = props.areas.flatMap((a) => a.values.outline.map(([x, y]) => ({ x: Number(x), y: Number(y) })))
  return boundsOf([...corners, { x: props.level.values.start_x_m, y: props.level.values.start_y_m }], 1.2)
})
const behaviour = zoom<HTMLElement, unknown>()
  .scaleExtent([4, 160])
  .filter((event: Event) => !(event.target as Element).closest('.grab') && !(event instanceof MouseEvent && event.button > 0 && event.type === 'mousedown'))
  .on('zoom', (event: D3ZoomEvent<HTMLElement, unknown>) => {
    const { x, y, k } = event.transform
    const by = k / drawn.value.k
    const [dx, dy] = [x - drawn.value.x * by, y - drawn.value.y * by]
    if (carrier.value) carrier.value.style.transform = `translate(${dx + MARGIN * (1 - by)}px, ${dy + MARGIN * (1 - by)}px) scale(${by})`
    if (Math.max(Math.abs(dx), Math.abs(dy)) > MARGIN * 0.9 || by < 0.6 || by > 1.8) draw(event.transform)
  })
  .on('end', (event: D3ZoomEvent<HTMLElement, unknown>) => draw(event.transform))

/** Draws the level anew at a transform; until then a gesture only moves the picture. */
function draw({ x, y, k }: { x: number; y: number; k: number }): void {
  drawn.value = { x, y, k }
  world.value?.setAttribute('transform', `translate(${x + MARGIN} ${y + MARGIN}) scale(${k} ${-k})`)
  if (carrier.value) carrier.value.style.transform = ''
  if (svg.value) {
    svg.value.style.setProperty('--inv', String(1 / k))
    svg.value.style.setProperty('--badge', String(Math.min(1, Math.max(0.35, k / 14)) / k))
  }
  scale.value = labelScale.value = k
}

function showAll(): void {
  if (!view.value || !width.value) return
  const { left, right, top, bottom } = bounds.value
  const k = Math.min(width.value / (right - left), (height.value - 26) / (top - bottom), 60)
  const shift = zoomIdentity.translate(width.value / 2 - ((left + right) / 2) * k, (height.value - 14) / 2 + ((top + bottom) / 2) * k).scale(k)
  select(view.value).call(behaviour.transform, shift)
}
function zoomBy(factor: number): void {
  if (view.value) select(view.value).call(behaviour.scaleBy, factor)
}
function worldAt(event: { clientX: number; clientY: number }): Point {
  const matrix = world.value?.getScreenCTM()
  if (!matrix) return { x: 0, y: 0 }
  const p = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix.inverse())
  return { x: p.x, y: p.y }
}
function middle(): { at: Point; screen: Point } {
  const box = view.value?.getBoundingClientRect() ?? new DOMRect()
  const screen = { x: box.left + box.width / 2, y: box.top + box.height / 2 }
  return { at: worldAt({ clientX: screen.x, clientY: screen.y }), screen }
}
defineExpose({ showAll, zoomBy, middle })

/** The objects that the picture can show. */
const seen = computed(() => {
  const { x, y, k } = drawn.value
  const near = 3 + MARGIN / k
  const [left, right, top, bottom] = [-x / k - near, (width.value - x) / k + near, y / k + near, (y - height.value) / k - near]
  const within = (o: Placed): boolean => o.row.values.x_m > left && o.row.values.x_m < right && o.row.values.y_m < top && o.row.values.y_m > bottom
  return props.objects.filter((o) => o.row.key === props.selected || within(o))
})
const chosen = computed(() => props.objects.find((o) => o.row.key === props.selected))
const shownOverlaps = computed(() => overlaps(seen.value.filter((o) => props.live?.objects[o.row.key]?.exists !== false)))
const labels = computed(() => labelSides(seen.value.map((o) => ({ x: o.row.values.x_m, y: o.row.values.y_m })), seen.value.map((o) => labelText(o.row.values.name)), labelScale.value, seen.value.map((o) => (o.row.key === props.selected || (props.asIf && props.live?.objects[o.row.key]?.prompts.some((p) => p.usable)) ? o.design.reach.radius_m : 0))))
const close = computed(() => scale.value > 13)
const fiveMetres = computed(() => scale.value * 5)
/** The handle of a round reach stands east, or north where the handle for turning points east. */
const north = computed(() => Math.abs((((chosen.value?.row.values.turn_deg ?? 0) + 360) % 360) - 90) < 40 && chosen.value?.design.reach.shape === 'circle')
const handle = computed(() => {
  const one = chosen.value
  if (!one || one.design.reach.shape === 'none') return null
  const m = reachMiddle(one)
  const reach = one.design.reach
  if (reach.shape === 'box') {
    const off = turned({ x: reach.width_m / 2, y: 0 }, one.row.values.turn_deg)
    return { x: m.x + off.x, y: m.y + off.y }
  }
  const off = reach.shape === 'wedge' ? turned({ x: reach.radius_m, y: 0 }, one.row.values.turn_deg) : north.value ? { x: 0, y: reach.radius_m } : { x: reach.radius_m, y: 0 }
  return { x: m.x + off.x, y: m.y + off.y }
})
const reachSays = computed(() => {
  const reach = chosen.value?.design.reach
  if (!reach) return ''
  return reach.shape === 'box' ? `${reach.width_m} × ${reach.depth_m} m` : `${reach.radius_m} m`
})

function track(event: PointerEvent, move: (e: PointerEvent) => void, up: (e: PointerEvent) => void): void {
  event.preventDefault()
  event.stopPropagation()
  const done = (e: PointerEvent): void => {
    window.removeEventListener('pointermove', move)
    window.removeEventListener('pointerup', done)
    up(e)
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', done)
}
function grab(one: Placed, event: PointerEvent): void {
  if (event.button !== 0) return
  const from = worldAt(event)
  const { x_m: x0, y_m: y0 } = one.row.values
  let moved = false
  const at = (e: PointerEvent): Point => {
    const now = worldAt(e)
    return { x: snapped(x0 + now.x - from.x, e.shiftKey), y: snapped(y0 + now.y - from.y, e.shiftKey) }
  }
  track(event, (e) => {
    if (!moved && Math.hypot(e.clientX - event.clientX, e.clientY - event.clientY) < 4) return
    moved = true
    emit('move', one.row.key, at(e), false)
  }, (e) => {
    if (moved) emit('move', one.row.key, at(e), true)
    else emit('select', one.row.key)
  })
}
function grabReach(event: PointerEvent): void {
  const one = chosen.value
  if (!one) return
  const m = reachMiddle(one)
  const size = (e: PointerEvent): number => {
    const p = worldAt(e)
    const gap = one.design.reach.shape === 'box' ? Math.abs(turned({ x: p.x - m.x, y: p.y - m.y }, -one.row.values.turn_deg).x) * 2 : Math.hypot(p.x - m.x, p.y - m.y)
    return Math.max(0.1, e.shiftKey ? Math.round(gap * 100) / 100 : Math.round(gap * 10) / 10)
  }
  track(event, (e) => emit('reach', one.row.key, size(e), false), (e) => emit('reach', one.row.key, size(e), true))
}
/** The reach by keyboard: an arrow is 10 cm. */
function keyReach(event: KeyboardEvent): void {
  const by = { ArrowUp: 0.1, ArrowRight: 0.1, ArrowDown: -0.1, ArrowLeft: -0.1 }[event.key]
  const reach = chosen.value?.design.reach
  if (!by || !reach || !chosen.value) return
  event.preventDefault()
  event.stopPropagation()
  const now = reach.shape === 'box' ? reach.width_m : reach.radius_m
  emit('reach', chosen.value.row.key, Math.max(0.1, Math.round((now + by) * 100) / 100), true)
}
function grabTurn(event: PointerEvent): void {
  const one = chosen.value
  if (!one) return
  const deg = (e: PointerEvent): number => {
    const p = worldAt(e)
    const raw = (Math.atan2(p.y - one.row.values.y_m, p.x - one.row.values.x_m) * 180) / Math.PI + 90
    return (Math.round(raw / (e.shiftKey ? 1 : 15)) * (e.shiftKey ? 1 : 15) + 720) % 360
  }
  track(event, (e) => emit('turn', one.row.key, deg(e), false), (e) => emit('turn', one.row.key, deg(e), true))
}
function grabStart(event: PointerEvent): void {
  const at = (e: PointerEvent): Point => {
    const p = worldAt(e)
    return { x: snapped(p.x, e.shiftKey), y: snapped(p.y, e.shiftKey) }
  }
  track(event, (e) => (dragStart.value = at(e)), (e) => {
    dragStart.value = null
    emit('start', at(e))
  })
}
onMounted(() => {
  if (view.value) select(view.value).call(behaviour).on('dblclick.zoom', null)
})
const stop = watch([width, height], ([w]) => {
  if (w > 0) {
    showAll()
    stop()
  }
})
</script>

<template>
  <div ref="view" class="plan-view">
  <div ref="carrier" class="plan-carrier">
  <svg ref="svg" class="plan" :width="width + 2 * MARGIN" :height="height + 2 * MARGIN" role="application" :aria-label="`Plan of ${level.values.name}`" tabindex="-1" @click.self="emit('select', '')" @pointermove="(e) => (pointer = worldAt(e))" @dblclick="(e) => emit('floor', worldAt(e), { x: e.clientX, y: e.clientY })">
    <defs>
      <pattern id="grid" width="1" height="1" patternUnits="userSpaceOnUse"><path d="M0 0H1M0 0V1" fill="none" stroke="#e9e2d2" stroke-width="0.03" /></pattern>
      <pattern id="water" width="1.2" height="0.5" patternUnits="userSpaceOnUse"><path d="M0 .25q.3 .22 .6 0t.6 0" fill="none" stroke="#b9c8d8" stroke-width="0.035" /></pattern>
      <pattern id="hatch" width="0.32" height="0.32" patternUnits="userSpaceOnUse" patternTransform="rotate(45)"><path d="M0 0V.32" stroke="#0f6e73" stroke-width="0.03" opacity="0.35" /></pattern>
      <clipPath v-for="o in shownOverlaps" :id="`clip-${o.a.row.id}-${o.b.row.id}`" :key="`${o.a.row.id}-${o.b.row.id}`"><path :d="reachPath(o.a.design.reach)" :transform="`translate(${reachMiddle(o.a).x} ${reachMiddle(o.a).y})`" /></clipPath>
    </defs>
    <g ref="world" class="world">
      <rect :x="bounds.left - 60" :y="bounds.bottom - 60" :width="bounds.right - bounds.left + 120" :height="bounds.top - bounds.bottom + 120" fill="url(#grid)" pointer-events="none" />
      <g v-for="area in areas" :key="area.id" pointer-events="none">
        <path :d="outlinePath(area.values.outline, true)" :class="`tint-${area.values.tint}`" stroke="#d9d0bd" stroke-width="0.03" />
        <path v-if="area.values.tint === 'water'" :d="outlinePath(area.values.outline, true)" fill="url(#water)" />
      </g>
      <g class="walls" pointer-events="none">
        <path v-for="wall in walls" :key="wall.id" :d="outlinePath(wall.values.points, false)" :class="{ glass: wall.values.glass }" />
      </g>
      <g v-for="area in areas" :key="`n${area.id}`" class="grab" :transform="`translate(${Math.min(...area.values.outline.map((p) => Number(p[0]))) + 0.35} ${Math.max(...area.values.outline.map((p) => Number(p[1]))) - 0.3})`">
        <g class="fixed"><text class="area-name" :class="{ chosen: area.key === selected }" y="14" @click="emit('select', area.key)">{{ area.values.name }}<tspan v-if="area.values.floor_m" class="height" dx="6">{{ area.values.floor_m > 0 ? '+' : '−' }}{{ Math.abs(area.values.floor_m) }} m</tspan></text></g>
      </g>
      <g pointer-events="none">
        <g v-for="o in shownOverlaps" :key="`o${o.a.row.id}-${o.b.row.id}`">
          <g :clip-path="`url(#clip-${o.a.row.id}-${o.b.row.id})`"><path :d="reachPath(o.b.design.reach)" :transform="`translate(${reachMiddle(o.b).x} ${reachMiddle(o.b).y})`" class="overlap" /></g>
          <g :transform="`translate(${o.at.x} ${o.at.y})`"><text class="fixed overlap-says" y="4" text-anchor="middle">{{ o.says }}</text></g>
        </g>
      </g>
      <g :transform="`translate(${dragStart?.x ?? level.values.start_x_m} ${dragStart?.y ?? level.values.start_y_m})`" class="grab start" tabindex="0" role="button" aria-label="Player start" @pointerdown="grabStart">
        <g class="fixed"><path d="M0-9L7 7L0 3L-7 7Z" /><text x="13" y="5">start</text></g>
      </g>
      <PlanObject v-for="(one, i) in seen" :key="one.row.id" :one="one" :label="labels[i]" :selected="one.row.key === selected" :live="live?.objects[one.row.key]" :as-if="asIf" :pose="shown?.key === one.row.key ? shown.pose : null" :named="close || one.row.key === selected" @grab="(e) => grab(one, e)" @choose="emit('select', one.row.key)" />
      <g v-if="chosen && handle" class="grab">
        <g :transform="`translate(${handle.x} ${handle.y})`"><g class="fixed">
          <circle class="handle" r="6" role="slider" tabindex="0" aria-label="Reach, drag to size" :aria-valuenow="chosen.design.reach.radius_m" data-handle="reach" @pointerdown="grabReach" @keydown="keyReach" />
          <text class="reach-says" x="11" :y="north ? -4 : 5">{{ reachSays }}</text>
        </g></g>
      </g>
      <g v-if="chosen" class="grab" :transform="`translate(${chosen.row.values.x_m} ${chosen.row.values.y_m}) rotate(${chosen.row.values.turn_deg})`">
        <g class="fixed"><path d="M0 20V46" stroke="var(--ink)" stroke-width="1.2" /><circle class="turn-handle" cy="50" r="4.5" role="slider" tabindex="-1" aria-label="Turn" :aria-valuenow="chosen.row.values.turn_deg" @pointerdown="grabTurn" /></g>
      </g>
    </g>
  </svg>
  </div>
  <svg class="legend" :width="width" height="30" aria-hidden="true">
    <text x="16" y="18">double-click the floor to place something that works · ? keys</text>
    <g :transform="`translate(${width - fiveMetres - 50} 16)`"><path :d="`M0-6V0H${fiveMetres}V-6M${fiveMetres / 2}-3V0`" /><text :x="fiveMetres + 8" y="1">5 m</text></g>
  </svg>
  </div>
</template>

<style>
.plan-view { position: relative; flex: 1; min-height: 0; overflow: hidden; background: var(--paper); touch-action: none; }
.plan-carrier { position: absolute; left: -300px; top: -300px; transform-origin: 0 0; will-change: transform; }
.plan { display: block; --inv: 0.043; user-select: none; }
.plan .fixed { transform: scale(var(--inv), calc(-1 * var(--inv))); }
.plan .fixed.badge { transform: scale(var(--badge), calc(-1 * var(--badge))); }
.plan .tint-sand { fill: #f3ecdd; } .plan .tint-moss { fill: #edefdd; } .plan .tint-mint { fill: #e8efe9; }
.plan .tint-water { fill: #e3eaf2; } .plan .tint-rose { fill: #f3e8ec; } .plan .tint-stone { fill: #efebe6; }
.plan .walls path { fill: none; stroke: var(--ink); stroke-width: 0.24; stroke-linejoin: miter; stroke-linecap: square; }
.plan .walls path.glass { stroke: #7f9bb0; stroke-width: 0.16; stroke-dasharray: 0.5 0.12; stroke-linecap: butt; }
.plan text { font-family: var(--text); font-size: 13px; fill: var(--ink); }
.plan .area-name { font: 650 13.5px var(--head); fill: #6c6558; cursor: pointer; }
.plan .area-name.chosen { fill: var(--ink); text-decoration: underline; }
.plan .height { font: 12px var(--mono); fill: var(--pencil); }
.plan .start path { fill: var(--ink); } .plan .start { cursor: grab; }
.plan .handle { fill: var(--page); stroke: var(--teal); stroke-width: 2; cursor: ew-resize; }
.plan .turn-handle { fill: var(--page); stroke: var(--ink); stroke-width: 2; cursor: grab; }
.plan .reach-says { fill: var(--teal); font-family: var(--mono); paint-order: stroke; stroke: var(--paper); stroke-width: 4px; }
.plan .overlap { fill: #8a5000; opacity: 0.28; }
.plan .overlap-says { fill: var(--amber); font-size: 12px; paint-order: stroke; stroke: var(--paper); stroke-width: 3px; }
.legend { position: absolute; left: 0; bottom: 0; pointer-events: none; }
.legend text { fill: var(--pencil); font-size: 12.5px; } .legend path { fill: none; stroke: var(--pencil); }
</style>
