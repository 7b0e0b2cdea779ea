<script lang="ts">
/** How each level was looked at last, on the screen as large as it was: a walk in between changes nothing. */
const looked = new Map<number, { x: number; y: number; k: number; width: number; height: number }>()
</script>

<script setup lang="ts">
import { useElementSize, useStyleTag } from '@vueuse/core'
import { select } from 'd3-selection'
import { zoom, zoomIdentity, type D3ZoomEvent } from 'd3-zoom'
import { computed, onMounted, ref, watch } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import type { Placed } from './designs'
import type { Drawing } from './drawing'
import { boundsOf, outlinePath, snapped, type Point } from './geometry'
import PlanCards from './PlanCards.vue'
import PlanSpot from './PlanSpot.vue'
import PlanCorners from './PlanCorners.vue'
import PlanGround from './PlanGround.vue'
import PlanHandles from './PlanHandles.vue'
import PlanObject from './PlanObject.vue'
import PlanPennant from './PlanPennant.vue'
import type { Measure } from './measuring'
import { usePlanNames } from './naming'
import { track } from './track'
import type { Shown } from './showing'
import { useFindings } from '@/stores/findings'

const findings = useFindings()
const props = defineProps<{
  level: RowOf<'level'>
  areas: readonly RowOf<'area'>[]
  walls: readonly RowOf<'wall'>[]
  exits: readonly RowOf<'exit'>[]
  objects: Placed[]
  selected: string
  group: Set<string>
  overlaps: Schemas['OverlapShape'][]
  drawing: Drawing
  measure: Measure | null
  live: Schemas['LiveReading'] | null
  asIf: boolean
  shown: Shown | null
  /** The spot of the floor where a walk would begin. */
  spot: Point | undefined
}>()
const emit = defineEmits<{
  select: [key: string, more: boolean]
  marquee: [keys: string[]]
  /** A drag was given up. */
  letGo: []
  move: [key: string, by: Point, done: boolean, copy: boolean]
  own: [path: string, value: unknown, done: boolean]
  row: [id: number, values: Record<string, unknown>, done: boolean]
  away: [id: number, event: PointerEvent]
  point: [at: Point]
  start: [at: Point]
  floor: [at: Point, screen: Point]
  spot: [at: Point]
}>()

const view = ref<HTMLElement | null>(null)
const carrier = ref<HTMLElement | null>(null)
const svg = ref<SVGSVGElement | null>(null)
const world = ref<SVGGElement | null>(null)
const { width, height } = useElementSize(view)
/** The drawing is larger than the view by this much on each side, so that panning only moves a finished picture. */
const MARGIN = 300
/** From here on a stretched picture looks coarse, and is drawn anew in the middle of a gesture. */
const MOST_STRETCH = 4
/**
 * What keeps its size on the screen. Rules, as a property that is inherited would be worked out anew for every shape
 * of the plan.
 */
const { css: sizes } = useStyleTag('')
const scale = ref(23)
const drawn = ref({ x: 0, y: 0, k: 23 })
const settled = ref(drawn.value)
const dragStart = ref<Point | null>(null)
const pointer = ref<Point>({ x: 0, y: 0 })

const bounds = computed(() => {
  const corners = props.areas.flatMap((a) => a.values.outline.map(([x, y]) => ({ x: Number(x), y: Number(y) })))
  return boundsOf([...corners, { x: props.level.values.start_x_m, y: props.level.values.start_y_m }], 1.2)
})
const behaviour = zoom<HTMLElement, unknown>()
  .scaleExtent([4, 160])
  .filter(
    (event: Event) =>
      !(event.target as Element).closest('.grab') &&
      !(event instanceof MouseEvent && event.shiftKey && event.type === 'mousedown') &&
      !(event instanceof MouseEvent && event.button > 0 && event.type === 'mousedown'),
  )
  .on('zoom', (event: D3ZoomEvent<HTMLElement, unknown>) => {
    const { x, y, k } = event.transform
    const by = k / drawn.value.k
    const [dx, dy] = [x - drawn.value.x * by, y - drawn.value.y * by]
    if (carrier.value)
      carrier.value.style.transform = `translate(${dx + MARGIN * (1 - by)}px, ${dy + MARGIN * (1 - by)}px) scale(${by})`
    if (by > MOST_STRETCH || !covers(dx, width.value, by) || !covers(dy, height.value, by)) draw(event.transform, false)
  })
  .on('end', (event: D3ZoomEvent<HTMLElement, unknown>) => draw(event.transform))

/** Whether a picture that is moved and stretched still covers the view along one side of it. */
function covers(moved: number, side: number, by: number): boolean {
  return moved <= MARGIN * by && moved + (side + MARGIN) * by >= side
}

/**
 * Draws the level anew at a transform; until then a gesture only moves and stretches the picture. Names find new
 * places once it is over.
 */
function draw({ x, y, k }: { x: number; y: number; k: number }, over = true): void {
  drawn.value = { x, y, k }
  if (over) {
    settled.value = drawn.value
    looked.set(props.level.id, { ...drawn.value, width: width.value, height: height.value })
  }
  world.value?.setAttribute('transform', `translate(${x + MARGIN} ${y + MARGIN}) scale(${k} ${-k})`)
  if (carrier.value) carrier.value.style.transform = ''
  const badge = Math.min(1, Math.max(0.35, k / 14)) / k
  const sized = (what: string, by: number): string => `.plan .fixed${what} { transform: scale(${by}, ${-by}) }`
  sizes.value = `${sized('', 1 / k)} ${sized('.badge', badge)}`
  scale.value = k
}

function showAll(): void {
  if (!view.value || !width.value) return
  const { left, right, top, bottom } = bounds.value
  const k = Math.min(width.value / (right - left), (height.value - 26) / (top - bottom), 60)
  const shift = zoomIdentity
    .translate(width.value / 2 - ((left + right) / 2) * k, (height.value - 14) / 2 + ((top + bottom) / 2) * k)
    .scale(k)
  select(view.value).call(behaviour.transform, shift)
}
/** Nearer or further; what is selected and in view stays where it is on the screen. */
function zoomBy(factor: number): void {
  if (!view.value) return
  const { x, y, k } = drawn.value
  const one = chosen.value?.row.values
  const at: [number, number] | undefined = one ? [x + one.x_m * k, y - one.y_m * k] : undefined
  const inView = at && at[0] > 0 && at[0] < width.value && at[1] > 0 && at[1] < height.value
  select(view.value).call(behaviour.scaleBy, factor, inView ? at : undefined)
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
  const [left, right, top, bottom] = [
    -x / k - near,
    (width.value - x) / k + near,
    y / k + near,
    (y - height.value) / k - near,
  ]
  const within = (o: Placed): boolean =>
    o.row.values.x_m > left && o.row.values.x_m < right && o.row.values.y_m < top && o.row.values.y_m > bottom
  return props.objects.filter((o) => o.row.key === props.selected || within(o))
})
const chosen = computed(() => props.objects.find((o) => o.row.key === props.selected))
const seenKeys = computed(() => new Set(seen.value.map((o) => o.row.key)))
const shownOverlaps = computed(() => props.overlaps.filter((o) => seenKeys.value.has(o.a) || seenKeys.value.has(o.b)))
const usable = (o: Placed): boolean => props.asIf && !!props.live?.objects[o.row.key]?.prompts.some((p) => p.usable)
const strong = (o: Placed): boolean => o.row.key === props.selected || props.group.has(o.row.key)
const names = usePlanNames({
  level: () => props.level,
  areas: () => props.areas,
  walls: () => props.walls,
  exits: () => props.exits,
  objects: () => seen.value,
  overlaps: () => props.overlaps,
  selected: () => props.selected,
  strong,
  reached: (o) => strong(o) || usable(o),
  close: () => close.value,
  drawn: () => settled.value,
  view: () => ({ width: width.value, height: height.value }),
})
/** The start, where it stands or is dragged to. */
const startAt = computed(() => {
  const { start_x_m, start_y_m } = props.level.values
  return `translate(${dragStart.value?.x ?? start_x_m} ${dragStart.value?.y ?? start_y_m})`
})
const HOW_TO_DRAW = [
  'click or Space: a corner',
  'a number and Enter: so many metres on',
  'Enter: a wall',
  'A, or back to the first corner: an area',
  'Esc: no more',
].join(' · ')
const legend = computed(() => {
  if (props.drawing.on.value) return HOW_TO_DRAW
  if (props.measure) return props.measure.says
  return 'double-click the floor to place something that works · W draws walls and areas · ? keys'
})
const close = computed(() => settled.value.k > 13)
/** The longest round length whose bar stays short on the screen, metres. */
const bar = computed(() => [20, 10, 5, 2, 1].find((m) => m * scale.value <= 160) ?? 0.5)
const barLong = computed(() => scale.value * bar.value)
function grab(one: Placed, event: PointerEvent): void {
  if (event.button !== 0) return
  const from = worldAt(event)
  const { x_m: x0, y_m: y0 } = one.row.values
  let moved = false
  const by = (e: PointerEvent): Point => {
    const now = worldAt(e)
    return { x: snapped(x0 + now.x - from.x, e.shiftKey) - x0, y: snapped(y0 + now.y - from.y, e.shiftKey) - y0 }
  }
  track(
    event,
    (e) => {
      if (!moved && Math.hypot(e.clientX - event.clientX, e.clientY - event.clientY) < 4) return
      moved = true
      emit('move', one.row.key, by(e), false, event.ctrlKey)
    },
    (e) => {
      if (moved) emit('move', one.row.key, by(e), true, event.ctrlKey)
      else emit('select', one.row.key, event.ctrlKey || event.shiftKey)
    },
    () => emit('letGo'),
  )
}
const outlined = computed(() => [...props.areas, ...props.walls, ...props.exits].find((r) => r.key === props.selected))
const marquee = ref<{ from: Point; to: Point } | null>(null)
/** A frame drawn with Shift selects every object inside it. */
function frame(event: PointerEvent): void {
  if (event.button !== 0 || !event.shiftKey || props.drawing.on.value) return
  const from = worldAt(event)
  track(
    event,
    (e) => (marquee.value = { from, to: worldAt(e) }),
    () => {
      const m = marquee.value
      marquee.value = null
      if (!m) return
      const within = (v: number, a: number, b: number): boolean => v >= Math.min(a, b) && v <= Math.max(a, b)
      emit(
        'marquee',
        props.objects
          .filter((o) => within(o.row.values.x_m, m.from.x, m.to.x) && within(o.row.values.y_m, m.from.y, m.to.y))
          .map((o) => o.row.key),
      )
    },
    () => (marquee.value = null),
  )
}
function floorClick(event: MouseEvent): void {
  if (event.shiftKey && !props.drawing.on.value) return
  if (props.drawing.on.value) {
    props.drawing.point(worldAt(event), event.shiftKey)
    props.drawing.put()
  } else if (props.measure) {
    const { x, y } = worldAt(event)
    emit('point', { x: snapped(x, event.shiftKey), y: snapped(y, event.shiftKey) })
  } else if (event.detail < 2) emit('spot', worldAt(event))
}
function pointed(event: PointerEvent): void {
  pointer.value = worldAt(event)
  if (props.drawing.on.value) props.drawing.point(pointer.value, event.shiftKey)
}
const draft = computed(() =>
  [...props.drawing.corners.value, props.drawing.cursor.value].map((p): [number, number] => [p.x, p.y]),
)
const draftLong = computed(() => {
  const last = props.drawing.corners.value.at(-1)
  const { x, y } = props.drawing.cursor.value
  return props.drawing.typed.value || (last ? Math.hypot(x - last.x, y - last.y).toFixed(2) : '')
})
function grabStart(event: PointerEvent): void {
  const at = (e: PointerEvent): Point => {
    const p = worldAt(e)
    return { x: snapped(p.x, e.shiftKey), y: snapped(p.y, e.shiftKey) }
  }
  track(
    event,
    (e) => (dragStart.value = at(e)),
    (e) => {
      dragStart.value = null
      emit('start', at(e))
    },
    () => (dragStart.value = null),
  )
}
onMounted(() => {
  if (view.value) select(view.value).call(behaviour).on('dblclick.zoom', null)
  // An animation that adds nothing and never runs: only what has one is moved without the browser layering the whole
  // plan anew, 7 ms of each frame.
  carrier.value?.animate({ transform: ['none', 'none'] }, { duration: 1, fill: 'both', composite: 'add' }).pause()
})
const stop = watch([width, height], ([w]) => {
  if (w > 0) {
    const before = looked.get(props.level.id)
    if (before?.width === w && before.height === height.value && view.value)
      select(view.value).call(behaviour.transform, zoomIdentity.translate(before.x, before.y).scale(before.k))
    else showAll()
    stop()
  }
})
</script>

<template>
  <div ref="view" class="plan-view">
    <div ref="carrier" class="plan-carrier">
      <svg
        ref="svg"
        class="plan"
        :width="width + 2 * MARGIN"
        :height="height + 2 * MARGIN"
        role="application"
        :aria-label="`Plan of ${level.values.name}`"
        tabindex="-1"
        :class="{ drawing: drawing.on.value || measure }"
        @click.self="floorClick"
        @pointerdown.self="frame"
        @pointermove="pointed"
        @dblclick="(e) => !drawing.on.value && emit('floor', worldAt(e), { x: e.clientX, y: e.clientY })"
      >
        <defs>
          <pattern id="grid" width="1" height="1" patternUnits="userSpaceOnUse">
            <path d="M0 0H1M0 0V1" fill="none" stroke="#e9e2d2" stroke-width="0.03" />
          </pattern>
          <pattern id="water" width="1.2" height="0.5" patternUnits="userSpaceOnUse">
            <path d="M0 .25q.3 .22 .6 0t.6 0" fill="none" stroke="#b9c8d8" stroke-width="0.035" />
          </pattern>
          <pattern id="hatch" width="0.32" height="0.32" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V.32" stroke="#0f6e73" stroke-width="0.03" opacity="0.35" />
          </pattern>
        </defs>
        <g ref="world" class="world">
          <rect
            :x="bounds.left - 60"
            :y="bounds.bottom - 60"
            :width="bounds.right - bounds.left + 120"
            :height="bounds.top - bounds.bottom + 120"
            fill="url(#grid)"
            pointer-events="none"
          />
          <PlanGround
            :labels="names.exits"
            :level="level"
            :areas="areas"
            :walls="walls"
            :exits="exits"
            :selected="selected"
            :world-at="worldAt"
            @select="(k) => emit('select', k, false)"
            @row="(id, values, done) => emit('row', id, values, done)"
          />
          <g
            v-for="one in names.areas"
            :key="`n${one.area.id}`"
            class="grab"
            :transform="`translate(${one.at.x} ${one.at.y})`"
          >
            <g class="fixed">
              <text
                class="area-name"
                :class="{ chosen: one.area.key === selected }"
                :x="one.label.dx"
                :y="one.label.dy"
              >
                {{ one.name }}
                <title v-if="one.name !== one.area.values.name">{{ one.area.values.name }}</title>
                <tspan v-if="one.floor" class="height" dx="6">{{ one.floor }}</tspan>
              </text>
              <PlanPennant
                v-if="findings.marks.get(one.area.id)?.own"
                :mark="findings.marks.get(one.area.id)!"
                :x="one.label.dx"
                :y="one.label.dy - 13"
              />
            </g>
          </g>
          <g pointer-events="none">
            <g v-for="o in shownOverlaps" :key="`${o.a}-${o.b}`">
              <path v-for="(line, i) in o.outlines" :key="i" class="overlap" :d="outlinePath(line, true)" />
            </g>
          </g>
          <g
            :transform="startAt"
            class="grab start"
            tabindex="0"
            role="button"
            aria-label="Player start"
            @pointerdown="grabStart"
          >
            <g class="fixed">
              <path d="M0-9L7 7L0 3L-7 7Z" />
              <PlanPennant v-if="findings.marks.get(level.id)?.own" :mark="findings.marks.get(level.id)!" :y="-10" />
              <text v-if="close" x="13" y="5">start</text>
            </g>
          </g>
          <PlanSpot v-if="spot" :at="spot" />
          <PlanCards
            :chosen="chosen?.row.values"
            :level="level"
            :world-at="worldAt"
            @row="(id, values, done) => emit('row', id, values, done)"
          />
          <PlanObject
            v-for="one in seen"
            :key="one.row.id"
            :one="one"
            :label="names.objects.get(one.row.key)"
            :selected="one.row.key === selected || group.has(one.row.key)"
            :mark="findings.marks.get(one.row.id)"
            :live="live?.objects[one.row.key]"
            :as-if="asIf"
            :pose="shown?.key === one.row.key ? shown.pose : null"
            @grab="(e) => grab(one, e)"
            @choose="emit('select', one.row.key, false)"
          />
          <g
            v-for="o in names.overlaps"
            :key="`s${o.id}`"
            :transform="`translate(${o.at.x} ${o.at.y})`"
            pointer-events="none"
          >
            <g class="fixed">
              <text class="overlap-says" :x="o.label.dx" :y="o.label.dy" :text-anchor="o.label.anchor">
                {{ o.says }}
              </text>
            </g>
          </g>
          <PlanHandles
            v-if="chosen && group.size < 2"
            :key="chosen.row.id"
            :one="chosen"
            :labels="names.handles"
            :world-at="worldAt"
            @own="(path, value, done) => emit('own', path, value, done)"
            @row="(values, done) => emit('row', chosen!.row.id, values, done)"
          />
          <PlanCorners
            v-if="outlined"
            :key="outlined.id"
            :level="level"
            :row="outlined"
            :labels="names.handles"
            :world-at="worldAt"
            @row="(values, done) => emit('row', outlined!.id, values, done)"
            @away="(e) => emit('away', outlined!.id, e)"
          />
          <rect
            v-if="marquee"
            class="marquee"
            :x="Math.min(marquee.from.x, marquee.to.x)"
            :y="Math.min(marquee.from.y, marquee.to.y)"
            :width="Math.abs(marquee.to.x - marquee.from.x)"
            :height="Math.abs(marquee.to.y - marquee.from.y)"
          />
          <g v-if="drawing.on.value" class="draft" pointer-events="none">
            <path :d="outlinePath(draft, drawing.closes.value)" />
            <g :transform="`translate(${drawing.cursor.value.x} ${drawing.cursor.value.y})`">
              <g class="fixed">
                <circle r="5" />
                <text x="11" y="-8">
                  {{ draftLong ? `${draftLong} m` : 'first corner'
                  }}{{ drawing.closes.value ? ' · closes the area' : '' }}
                </text>
              </g>
            </g>
          </g>
          <g v-if="measure" class="draft" pointer-events="none">
            <path
              v-if="measure.points.length > 1"
              :d="
                outlinePath(
                  measure.points.map((p) => [p.x, p.y]),
                  false,
                )
              "
            />
            <path
              v-if="measure.way.length"
              class="way"
              :d="
                outlinePath(
                  measure.way.map((p) => [p.x, p.y]),
                  false,
                )
              "
            />
            <g v-for="(p, i) in measure.points" :key="i" :transform="`translate(${p.x} ${p.y})`">
              <circle class="fixed" r="5" />
            </g>
          </g>
        </g>
      </svg>
    </div>
    <svg class="legend" :width="width" height="54" aria-hidden="true">
      <text x="16" y="42">{{ legend }}</text>
      <g :transform="`translate(${width - barLong - 62} ${legend === HOW_TO_DRAW ? 16 : 40})`">
        <path :d="`M0-6V0H${barLong}V-6M${barLong / 2}-3V0`" />
        <text :x="barLong + 8" y="1">{{ bar }} m</text>
      </g>
    </svg>
  </div>
</template>

<style>
.plan-view {
  position: relative; flex: 1; min-height: 0; overflow: hidden; background: var(--paper); touch-action: none;
}
.plan-carrier { position: absolute; left: -300px; top: -300px; transform-origin: 0 0; will-change: transform; }
.plan { display: block; user-select: none; }
.plan .walls path {
  fill: none; stroke: var(--ink); stroke-width: 0.24; stroke-linejoin: miter; stroke-linecap: square;
}
.plan .walls path.glass { stroke: #7f9bb0; stroke-width: 0.16; stroke-dasharray: 0.5 0.12; stroke-linecap: butt; }
.plan text { font-family: var(--text); font-size: 13px; fill: var(--ink); }
.plan .area-name { font: 650 13.5px var(--head); fill: #6c6558; pointer-events: none; }
.plan .area-name.chosen { fill: var(--ink); text-decoration: underline; }
.plan .height { font: 12px var(--mono); fill: var(--pencil); }
.plan .start path { fill: var(--ink); } .plan .start { cursor: grab; }
.plan .handle { fill: var(--page); stroke: var(--teal); stroke-width: 2; cursor: ew-resize; }
.plan .turn-handle { fill: var(--page); stroke: var(--ink); stroke-width: 2; cursor: grab; }
.plan .reach-says {
  fill: var(--teal); font-family: var(--mono); paint-order: stroke; stroke: var(--paper); stroke-width: 4px;
}
.plan .marquee { fill: #22303c14; stroke: var(--ink); stroke-width: 1.2; vector-effect: non-scaling-stroke; }
.plan.drawing { cursor: crosshair; }
.plan .draft path {
  fill: #22303c10; stroke: var(--ink); stroke-width: 2.4; vector-effect: non-scaling-stroke;
  stroke-dasharray: 6 4;
}
.plan .draft path.way { stroke: var(--teal); fill: none; }
.plan .draft circle { fill: var(--page); stroke: var(--ink); stroke-width: 2; }
.plan .draft text { font: 13px var(--mono); paint-order: stroke; stroke: var(--paper); stroke-width: 4px; }
.plan .overlap { fill: #8a5000; opacity: 0.28; }
.plan .overlap-says {
  fill: var(--amber); font-size: 12px; paint-order: stroke; stroke: var(--paper); stroke-width: 3px;
}
.legend { position: absolute; left: 0; bottom: 0; pointer-events: none; }
.legend text { fill: var(--pencil); font-size: 12.5px; paint-order: stroke; stroke: var(--paper); stroke-width: 5px; }
.legend path { fill: none; stroke: var(--pencil); }
</style>
