<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, onMounted, onUnmounted, ref, watch } from 'vue'
import type { RowOf } from '@/api/client'
import { EFFECT_S, TICKS_A_SECOND } from '@/api/described'
import type { Placed } from '@/plan/designs'
import {
  bodyPath,
  boundsOf,
  collarArcs,
  labelText,
  outlinePath,
  poseTransform,
  reachMiddle,
  reachPath,
  swingArc,
} from '@/plan/geometry'
import { usePlanNames } from '@/plan/naming'
import { iconPath } from '@/theme/icons'
import type { LivePrompt, PlaytestRun } from './connection'
import { within, type Label } from '@/plan/labels'
import { cameraAt, glided, type Camera } from './camera'
import EffectMark from './EffectMark.vue'
import { textWidth } from '@/plan/textwidth'
import { offThePlayer } from './aside'
import PromptCard from './PromptCard.vue'

/** The lit-down level as the run has it now; the browser glides between the last two pictures. */
const props = defineProps<{
  abilities: readonly RowOf<'ability'>[]
  level: RowOf<'level'>
  areas: readonly RowOf<'area'>[]
  walls: readonly RowOf<'wall'>[]
  exits: readonly RowOf<'exit'>[]
  objects: Placed[]
  run: PlaytestRun
  reaches: boolean
  /** The marked entry of each panel, by its control. */
  entries: ReadonlyMap<string, string>
  eye: { view_m: number; look_ahead_m: number; behind_s: number; inside_area: boolean }
  /** How much nearer it is looked at than the project says. */
  zoom: number
  /** How much of the upper left corner the quests take, pixels. */
  corner: { width: number; height: number }
  /** Whether names are shown. */
  named: boolean
  /** The object that sight is drawn to, and whether it is clear; null for none. */
  sight: { key: string; clear: boolean } | null
}>()
const emit = defineEmits<{
  walk: [x: number, y: number]
  ask: [key: string]
  /** What is under the pointer; nothing when it leaves. */
  point: [key: string]
  crowded: [now: boolean]
  choose: [button: string]
  mark: [button: string]
  mouse: [button: number, pressed: boolean, event: MouseEvent]
  wheel: [by: number]
}>()
defineSlots<{ over: (slot: { scale: number }) => unknown }>()

const svg = ref<SVGSVGElement | null>(null)
const { width, height } = useElementSize(svg)
/** Pixels a metre: so much that the project's stretch of level fills the width. */
const scale = computed(() => Math.min(Math.max(((width.value || 800) / props.eye.view_m) * props.zoom, 6), 160))
const pointer = ref<{ x: number; y: number } | null>(null)
const EFFECT_TICKS = EFFECT_S * TICKS_A_SECOND
const effects = computed(() => {
  const now = props.run.picture.value?.tick ?? 0
  return props.run.chronicle.value
    .slice(-60)
    .flatMap((t, i) =>
      t.what === 'effect' && t.spot && now - t.tick < EFFECT_TICKS
        ? [{ id: `${t.tick}.${i}.${t.subject}`, what: t.subject, spot: t.spot }]
        : [],
    )
})
const aimed = computed(() => new Set(Object.values(props.run.picture.value?.aims ?? {})))
type Spot = [number, number, number]
const player = ref<Spot>([0, 0, 0])
const walkers = ref<Record<string, Spot>>({})
const camera = ref<Camera | null>(null)
const bounds = computed(() =>
  boundsOf(
    props.areas.flatMap((a) => a.values.outline.map(([x, y]) => ({ x: Number(x), y: Number(y) }))),
    3,
  ),
)
/** The box of the area where the player is. */
const areaBox = computed(() => {
  const [x, y] = player.value
  const outlines = props.areas.map((a) => a.values.outline.map(([px, py]) => ({ x: Number(px), y: Number(py) })))
  const here = outlines.find((outline) => within({ x, y }, outline))
  return here ? boundsOf(here, 1.5) : null
})
const marked = computed(() => new Set(props.run.hud.value?.marked ?? []))
/** Where the markers of open objectives point in this level, with how far it is. */
const marks = computed(() =>
  (props.run.hud.value?.quests ?? []).flatMap((q) =>
    q.objectives.flatMap((o) => (o.mark?.at ? [{ key: o.key, at: o.mark.at, words: o.mark.words }] : [])),
  ),
)
const focused = computed(() => new Set((props.run.picture.value?.prompts ?? []).map((p) => p.object)))
const things = computed(() => props.objects.filter((o) => props.run.objects.value[o.row.key]?.exists !== false))
/** Texts of what stands still; whoever walks has the name below. */
const standing = computed(() => things.value.filter((o) => !o.design.walks))
const names = usePlanNames({
  level: () => props.level,
  areas: () => props.areas,
  walls: () => props.walls,
  exits: () => props.exits,
  objects: () => standing.value,
  overlaps: () => [],
  selected: () => '',
  strong: () => false,
  reached: () => false,
  close: () => true,
  drawn: () => ({ x: 0, y: 0, k: scale.value }),
  view: () => ({ width: 0, height: 0 }),
})
/** A name further off than this never lies under the player. */
const NEAR_PX = 180
const BELOW: Label = { dx: 0, dy: 31, anchor: 'middle' }
/** The prompts by their objects; those of one spot stand in one pile. */
const piles = computed(() => {
  const found = new Map<string, { key: string; prompts: LivePrompt[]; x: number; y: number }>()
  for (const prompt of (props.run.picture.value?.prompts ?? []).filter((p) => p.place === 'object')) {
    const key = [prompt.object, ...prompt.at].join(' ')
    const pile = found.get(key)
    if (pile) pile.prompts.push(prompt)
    else found.set(key, { key: prompt.object, prompts: [prompt], ...screenOf(prompt) })
  }
  return [...found.values()]
})

function screenOf(prompt: LivePrompt): { x: number; y: number } {
  const c = camera.value ?? { x: 0, y: 0 }
  return {
    x: width.value / 2 + (prompt.at[0] - c.x) * scale.value,
    y: height.value / 2 - (prompt.at[1] - c.y) * scale.value,
  }
}
function thing(one: Placed): { pose: [number, number, number]; state: number; lit: boolean } {
  const live = props.run.objects.value[one.row.key]
  const pose = props.run.picture.value?.poses[one.row.key] ?? live?.pose ?? [0, 0, 0]
  return { pose, state: live?.state_number ?? 0, lit: live?.lit ?? false }
}
function placeOf(one: Placed): [number, number] {
  const at = walkers.value[one.row.key]
  return at ? [at[0], at[1]] : [one.row.values.x_m, one.row.values.y_m]
}
/** Where a reach lies: a character's goes along. */
function reachAt(one: Placed): string {
  const walks = walkers.value[one.row.key]
  const middle = walks ? { x: walks[0], y: walks[1] } : reachMiddle(one)
  return `translate(${middle.x} ${middle.y}) rotate(${walks ? walks[2] - 90 : one.row.values.turn_deg})`
}
function textAt(one: Placed): { x: number; y: number; 'text-anchor': string } {
  const own = names.value.objects.get(one.row.key) ?? BELOW
  const [x, y] = placeOf(one)
  const off = { x: (player.value[0] - x) * scale.value, y: (y - player.value[1]) * scale.value }
  const near = Math.abs(off.x) < NEAR_PX && Math.abs(off.y) < NEAR_PX
  const { dx, dy, anchor } = near ? offThePlayer(own, textWidth(one.row.values.name, '12.5px', '--text'), off) : own
  return { x: dx, y: dy, 'text-anchor': anchor }
}
/** Whether the player stands where the card of a prompt would be. */
function above(prompt: LivePrompt): boolean {
  return player.value[1] > prompt.at[1] + 0.4 && Math.abs(player.value[0] - prompt.at[0]) < 3
}
/** Where sight is drawn to. */
const sightLine = computed(() => {
  const one = props.sight && things.value.find((o) => o.row.key === props.sight?.key)
  return one ? placeOf(one) : null
})
/** So much more than a card covers must be free about whoever plays. */
const AROUND_PX = 60
/** Whether the player or a prompt stands where the quests are shown. */
const crowded = computed(() => {
  const c = camera.value ?? { x: 0, y: 0 }
  const spots = [
    {
      x: width.value / 2 + (player.value[0] - c.x) * scale.value,
      y: height.value / 2 - (player.value[1] - c.y) * scale.value,
    },
    ...piles.value.map((k) => ({ x: k.x - 60, y: k.y - 40 })),
  ]
  return spots.some((p) => p.x < props.corner.width + AROUND_PX && p.y < props.corner.height + AROUND_PX)
})
watch(crowded, (now) => emit('crowded', now))
let frame = 0
let drawnAt = 0
const same = (a: Spot | undefined, b: Spot): boolean => !!a && a.every((value, i) => value === b[i])
/** Draws the run between its last two pictures; what has not moved is not drawn again. */
function draw(stamp: number): void {
  const now = props.run.picture.value
  if (now) {
    // A faster run is told no oftener, a slower one in longer steps.
    const apart_ms = 1000 / TICKS_A_SECOND / Math.min(props.run.pace.value, 1)
    const share = Math.min((performance.now() - props.run.arrived.value) / apart_ms, 1)
    const before = props.run.before.value
    const next = glided(before?.player, now.player, share)
    if (!same(player.value, next)) player.value = next
    const all = Object.entries(now.walkers)
    const moved = all.map(([key, at]) => [key, glided(before?.walkers[key], at, share)] as const)
    if (all.length !== Object.keys(walkers.value).length || moved.some(([key, at]) => !same(walkers.value[key], at)))
      walkers.value = Object.fromEntries(moved)
    const { look_ahead_m, behind_s, inside_area } = props.eye
    const view = { w: width.value / scale.value, h: height.value / scale.value }
    const [area, level] = inside_area ? [areaBox.value, bounds.value] : [null, null]
    const wanted = { aheadM: look_ahead_m, behindS: behind_s, area, level, view }
    camera.value = cameraAt(camera.value, player.value, wanted, drawnAt ? stamp - drawnAt : 0)
  }
  drawnAt = stamp
  frame = requestAnimationFrame(draw)
}
/** The level on the screen, with the camera's point in the middle. */
function worldAt(c: Camera): string {
  const { x, y } = { x: width.value / 2 - c.x * scale.value, y: height.value / 2 + c.y * scale.value }
  return `translate(${x} ${y}) scale(${scale.value} ${-scale.value})`
}
function floorAt(event: MouseEvent): { x: number; y: number } | null {
  const box = svg.value?.getBoundingClientRect()
  const c = camera.value
  if (!box || !c) return null
  const [x, y] = [
    c.x + (event.clientX - box.left - width.value / 2) / scale.value,
    c.y - (event.clientY - box.top - height.value / 2) / scale.value,
  ]
  return { x: Math.round(x * 1000) / 1000, y: Math.round(y * 1000) / 1000 }
}
function click(event: MouseEvent): void {
  const at = floorAt(event)
  if (at) emit('walk', at.x, at.y)
}
/** The way from the player to the pointer, degrees; undefined while the pointer is elsewhere. */
function aim(): number | undefined {
  if (!pointer.value) return undefined
  return Math.round((Math.atan2(pointer.value.y - player.value[1], pointer.value.x - player.value[0]) * 180) / Math.PI)
}
/** What every ability that can be used now would aim at, and by what it aims. */
const aims = computed(() =>
  props.abilities
    .filter((one) => (props.run.hud.value?.abilities ?? []).some((a) => a.key === one.key && a.usable))
    .map((one) => {
      const at = pointer.value ? aim() : undefined
      const cap = props.run.hud.value?.abilities.find((a) => a.key === one.key)?.cap ?? ''
      const half = (one.values.aim_deg * Math.PI) / 180
      const [x, y] = [Math.cos(half) * one.values.range_m, Math.sin(half) * one.values.range_m]
      const wedge = `M0 0L${x} ${-y}A${one.values.range_m} ${one.values.range_m} 0 0 1 ${x} ${y}Z`
      return {
        cap: cap + one.key,
        wedge,
        range: one.values.range_m * 0.62,
        turn: at ?? player.value[2],
        says: `${cap} ${at === undefined ? 'the way you face' : 'at the pointer'}`.trim(),
      }
    }),
)
defineExpose({ aim })
onMounted(() => (frame = requestAnimationFrame(draw)))
onUnmounted(() => cancelAnimationFrame(frame))
</script>

<template>
  <svg
    ref="svg"
    class="night-floor"
    :data-x="player[0].toFixed(2)"
    :data-y="player[1].toFixed(2)"
    @click="click"
    @pointermove="(e) => (pointer = floorAt(e))"
    @pointerleave="pointer = null"
    @mousedown="(e) => emit('mouse', e.button, true, e)"
    @mouseup="(e) => emit('mouse', e.button, false, e)"
    @contextmenu.prevent
    @wheel.prevent="(e) => emit('wheel', e.deltaY < 0 ? 1 : -1)"
  >
    <g
      v-if="camera"
      :transform="worldAt(camera)"
    >
      <path
        v-for="area in areas"
        :key="area.id"
        :d="outlinePath(area.values.outline, true)"
        class="area"
        :class="{ high: area.values.floor_m > 0.4, wet: area.values.tint === 'water' }"
      />
      <g
        v-for="one in names.areas"
        :key="`n${one.area.id}`"
        :transform="`translate(${one.at.x} ${one.at.y}) scale(${1 / scale} ${-1 / scale})`"
      >
        <text v-if="named" class="area-name" :x="one.label.dx" :y="one.label.dy">{{ one.name }}</text>
      </g>
      <path
        v-for="wall in walls"
        :key="wall.id"
        :d="outlinePath(wall.values.points, false)"
        class="wall"
        :class="{ glass: wall.values.glass }"
      />
      <g
        v-for="exit in exits"
        :key="`e${exit.id}`"
        :transform="`translate(${exit.values.x_m} ${exit.values.y_m}) rotate(${exit.values.turn_deg})`"
      >
        <rect
          class="exit"
          :x="-exit.values.width_m / 2"
          :y="-exit.values.depth_m / 2"
          :width="exit.values.width_m"
          :height="exit.values.depth_m"
        />
        <g :transform="`rotate(${-exit.values.turn_deg}) scale(${1 / scale} ${-1 / scale})`">
          <text
            v-if="names.exits.has(exit.id)"
            class="exit-name"
            :x="names.exits.get(exit.id)?.dx"
            :y="names.exits.get(exit.id)?.dy"
            :text-anchor="names.exits.get(exit.id)?.anchor"
          >
            {{ exit.values.name }}
          </text>
        </g>
      </g>
      <g v-for="one in things" :key="one.row.key">
        <path
          v-if="reaches && one.design.reach.shape !== 'none'"
          class="reach"
          :class="{ near: focused.has(one.row.key) }"
          :d="reachPath(one.design.reach)"
          :transform="reachAt(one)"
        />
        <path
          v-for="(state, i) in one.design.states.slice(1)"
          :key="state.key"
          class="swing"
          :d="swingArc(one.design, one.design.states[i]!, state)"
          :transform="poseTransform(one, 0, 0, 0)"
        />
        <path
          v-if="!walkers[one.row.key]"
          class="body"
          :d="bodyPath(one.design)"
          :transform="poseTransform(one, ...thing(one).pose)"
        />
        <g
          :transform="`translate(${placeOf(one)[0]} ${placeOf(one)[1]}) scale(${1 / scale} ${-1 / scale})`"
          class="badge"
          :class="{
            focus: focused.has(one.row.key),
            lit: thing(one).lit,
            aimed: aimed.has(one.row.key),
            down: run.objects.value[one.row.key]?.down,
          }"
          :data-thing="one.row.key"
          :data-state="run.objects.value[one.row.key]?.state"
          @click.stop="emit('ask', one.row.key)"
          @pointerenter="emit('point', one.row.key)"
          @pointerleave="emit('point', '')"
        >
          <path
            v-for="(arc, i) in collarArcs(one.design.states.length, 17)"
            :key="i"
            :d="arc"
            class="collar"
            :class="{ now: i === thing(one).state }"
          />
          <circle v-if="aimed.has(one.row.key)" class="aim" r="22" />
          <circle r="13.5" />
          <path
            class="icon"
            :d="iconPath(run.objects.value[one.row.key]?.icon || one.design.icon)"
            transform="translate(-9 -9) scale(.75)"
          />
          <text v-if="named" v-bind="textAt(one)" :class="{ back: names.objects.get(one.row.key)?.back }">
            {{ labelText(one.row.values.name) }}{{ run.objects.value[one.row.key]?.down ? ', downed' : '' }}
          </text>
          <path v-if="marked.has(one.row.key)" class="marker" d="M0-34l7 7l-7 7l-7-7z" />
        </g>
      </g>
      <g
        v-for="one in marks"
        :key="`m${one.key}`"
        :transform="`translate(${one.at[0]} ${one.at[1]}) scale(${1 / scale} ${-1 / scale})`"
        :data-mark="one.key"
      >
        <path class="marker" d="M0-34l7 7l-7 7l-7-7z" />
        <text class="far" x="11" y="-23">{{ one.words }}</text>
      </g>
      <g
        v-for="one in effects"
        :key="one.id"
        :transform="`translate(${one.spot[0]} ${one.spot[1]}) scale(${1 / scale} ${-1 / scale})`"
      >
        <EffectMark :what="one.what" />
      </g>
      <g
        v-for="one in aims"
        :key="one.cap"
        class="aiming"
        :transform="`translate(${player[0]} ${player[1]}) rotate(${one.turn})`"
      >
        <path :d="one.wedge" />
        <g :transform="`translate(${one.range} 0) rotate(${-one.turn}) scale(${1 / scale} ${-1 / scale})`">
          <text dy="-6" text-anchor="middle">{{ one.says }}</text>
        </g>
      </g>
      <line
        v-if="sightLine"
        class="sight"
        :class="{ barred: !sight?.clear }"
        :x1="player[0]"
        :y1="player[1]"
        :x2="sightLine[0]"
        :y2="sightLine[1]"
      />
      <slot name="over" :scale="scale" />
      <g
        v-if="run.barred.value"
        class="barred"
        :transform="`translate(${run.barred.value.at[0]} ${run.barred.value.at[1]}) scale(${1 / scale} ${-1 / scale})`"
      >
        <path d="M-5-5L5 5M-5 5L5-5" />
        <text dy="-10" text-anchor="middle" role="status">{{ run.barred.value.text }}</text>
      </g>
      <g :transform="`translate(${player[0]} ${player[1]}) rotate(${player[2]})`" class="player">
        <circle :r="0.35" />
        <path d="M.12-.14L.3 0L.12 .14Z" />
      </g>
    </g>
  </svg>
  <div
    v-for="pile in piles"
    :key="pile.key"
    class="pile"
    :class="{ below: pile.y < 110 || above(pile.prompts[0]!) }"
    :style="{ left: `${Math.min(Math.max(pile.x, 120), width - 120)}px`, top: `${pile.y}px` }"
  >
    <TransitionGroup name="prompt" appear>
      <PromptCard
        v-for="prompt in pile.prompts"
        :key="prompt.control"
        :prompt="prompt"
        :marked="entries.get(prompt.control) ?? ''"
        @choose="(b) => emit('choose', b)"
        @mark="(b) => emit('mark', b)"
      />
    </TransitionGroup>
  </div>
</template>

<style scoped>
.pile {
  position: absolute; z-index: 3; display: flex; flex-direction: column; align-items: center; gap: 4px;
  transform: translate(-50%, calc(-100% - 34px)); width: max-content; pointer-events: none;
}
.pile.below { transform: translate(-50%, 46px); }
.night-floor { position: absolute; inset: 0; width: 100%; height: 100%; cursor: crosshair; user-select: none; }
.area { fill: var(--floor); } .area.high { fill: #262f38; } .area.wet { fill: #1b242e; }
.area-name { fill: #808b94; font: 600 13px var(--head); }
.wall { fill: none; stroke: var(--chalk); stroke-width: 0.13; stroke-linecap: square; }
.wall.glass { stroke: #6f8798; stroke-dasharray: 0.4 0.12; }
.reach { fill: #2f7a7a14; stroke: #2d6b6c; stroke-width: 1.4; vector-effect: non-scaling-stroke; }
.reach.near { stroke: #4fb3ac; stroke-width: 2; fill: #2f7a7a26; }
.swing { fill: none; stroke: #7d858c; stroke-width: 1.2; stroke-dasharray: 3 3; vector-effect: non-scaling-stroke; }
.body { fill: #39434c; stroke: #5b6670; stroke-width: 1.2; vector-effect: non-scaling-stroke; }
.badge { cursor: help; }
.badge circle { fill: var(--night); stroke: var(--chalk); stroke-width: 1.6; } .badge .icon { fill: var(--chalk); }
.badge.lit circle { fill: #4a3d1c; }
.badge.focus circle { stroke: var(--glow); }
.badge.focus .icon { fill: var(--glow); }
.badge text {
  fill: var(--chalk); font: 12.5px var(--text); paint-order: stroke; stroke: var(--floor); stroke-width: 3px;
}
.collar { fill: none; stroke: #4a545d; stroke-width: 2.4; } .collar.now { stroke: var(--chalk); }
.badge .aim { fill: none; stroke: var(--glow); stroke-width: 1.6; stroke-dasharray: 4 4; }
.badge.down circle { stroke-dasharray: 3 3; }
.badge:not(.focus, .aimed, .down, :hover) text.back { display: none; }
.exit {
  fill: #e9e4d814; stroke: var(--chalk); stroke-width: 1.4; stroke-dasharray: 2 3;
  vector-effect: non-scaling-stroke;
}
.exit-name { fill: var(--dusk); font: 12px var(--text); paint-order: stroke; stroke: var(--floor); stroke-width: 3px; }
.marker { fill: var(--glow); }
.far { fill: var(--glow); font-size: 12.5px; paint-order: stroke; stroke: var(--floor); stroke-width: 4px; }
.night-floor text { pointer-events: none; }
.aiming { pointer-events: none; }
.aiming path {
  fill: #e8b64d12; stroke: #e8b64d66; stroke-width: 1; stroke-dasharray: 3 4; vector-effect: non-scaling-stroke;
}
.aiming text {
  fill: var(--glow); font: 12px var(--text); paint-order: stroke; stroke: var(--floor); stroke-width: 3px;
}
.sight { stroke: #8fc79a; stroke-width: 1.4; stroke-dasharray: 7 4; vector-effect: non-scaling-stroke; pointer-events: none; }
.sight.barred { stroke: #f0907e; stroke-dasharray: 2 4; }
.barred path { stroke: var(--glow); stroke-width: 2; fill: none; }
.barred text { fill: var(--chalk); font: 13px var(--text); paint-order: stroke; stroke: #0e1216; stroke-width: 4px; }
.player circle { fill: var(--chalk); } .player path { fill: var(--night); }
</style>
