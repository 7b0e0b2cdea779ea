<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'
import { iconPath } from '@/theme/icons'
import type { Placed } from './designs'
import {
  bodyPath,
  collarArcs,
  labelText,
  outlinePath,
  poseTransform,
  reachMiddle,
  reachPath,
  swingArc,
  turned,
} from './geometry'
import type { Label } from './labels'
import { saidOf, type Mark } from '@/stores/findings'
import PlanPennant from './PlanPennant.vue'

const props = defineProps<{
  one: Placed
  label: Label | undefined
  selected: boolean
  live: Schemas['LiveObject'] | undefined
  asIf: boolean
  mark: Mark | undefined
  pose: [number, number, number] | null
}>()
defineEmits<{ grab: [event: PointerEvent]; choose: [] }>()

const troubled = computed(() => (props.mark ? `${props.mark.weight}: ${saidOf(props.mark)}` : ''))
const design = computed(() => props.one.design)
const values = computed(() => props.one.row.values)
const number = computed(() =>
  Math.max(
    design.value.states.findIndex((s) => s.key === props.live?.state),
    0,
  ),
)
const state = computed(() => design.value.states[number.value] ?? design.value.states[0])
const stands = computed<[number, number, number]>(
  () => props.pose ?? [state.value?.swing_deg ?? 0, state.value?.slide_x_m ?? 0, state.value?.slide_y_m ?? 0],
)
const middle = computed(() => reachMiddle(props.one))
const arcs = computed(() =>
  design.value.states
    .slice(1)
    .map((s, i) => swingArc(design.value, design.value.states[i] ?? s, s))
    .filter(Boolean),
)
const collar = computed(() => collarArcs(design.value.states.length, 17.5))
const gone = computed(() => props.live?.exists === false)
const hollow = computed(
  () => gone.value || (props.asIf && design.value.prompts.length > 0 && !props.live?.prompts.some((p) => p.usable)),
)
const showReach = computed(() => props.selected || (props.asIf && !hollow.value && design.value.prompts.length > 0))
const rays = computed(() => {
  const { facing_deg: facing, sight_m: sight } = design.value.reach
  if (!props.selected || (facing === null && sight === null)) return []
  const half = Math.min(facing ?? 30, 90) / 2
  return [-half, half].map((a) => turned({ x: sight ?? design.value.reach.radius_m, y: 0 }, a))
})
</script>

<template>
  <g class="object" :class="{ selected, hollow }">
    <g pointer-events="none">
      <path
        v-if="design.body.shape === 'none' && design.reach.shape !== 'none' && !showReach"
        class="zone"
        :d="reachPath(design.reach)"
        :transform="`translate(${middle.x} ${middle.y}) rotate(${values.turn_deg})`"
      />
      <path
        v-if="showReach && design.reach.shape !== 'none'"
        class="reach"
        :class="{ itself: !design.prompts.length }"
        :d="reachPath(design.reach)"
        :transform="`translate(${middle.x} ${middle.y}) rotate(${values.turn_deg})`"
      />
      <path
        v-for="(ray, i) in rays"
        :key="i"
        class="ray"
        :d="`M0 0L${ray.x} ${ray.y}`"
        :transform="`translate(${middle.x} ${middle.y}) rotate(${values.turn_deg - 90})`"
      />
      <path v-if="values.round.length > 1" class="round" :d="outlinePath(values.round, true)" />
      <path v-for="arc in arcs" :key="arc" class="swing" :d="arc" :transform="poseTransform(one, 0, 0, 0)" />
    </g>
    <g class="grab" @pointerdown="(e) => $emit('grab', e)">
      <g :transform="poseTransform(one, ...stands)" :class="{ showing: pose }">
        <path class="body" :d="bodyPath(design)" />
        <path
          v-if="design.body.shape !== 'none'"
          class="front"
          :d="`M${-design.body.width_m / 4} ${-design.body.depth_m / 2}H${design.body.width_m / 4}`"
        />
      </g>
      <g :transform="`translate(${values.x_m} ${values.y_m})`">
        <g
          class="fixed badge"
          role="button"
          tabindex="0"
          :aria-label="troubled ? `${values.name}: ${troubled}` : values.name"
          :aria-pressed="selected"
          :data-object="one.row.key"
          @keydown.enter.exact.prevent.stop="$emit('choose')"
        >
          <path v-for="(arc, i) in collar" :key="i" :d="arc" class="collar" :class="{ now: i === number }" />
          <title v-if="labelText(values.name) !== values.name">{{ values.name }}</title>
          <circle r="14" class="disc" :class="{ lit: state?.lit }" />
          <path class="icon" :d="iconPath(design.icon)" transform="translate(-9 -9) scale(.75)" />
          <PlanPennant v-if="mark" :mark="mark" :y="-14" />
          <text
            v-if="label"
            :x="label.dx"
            :y="label.dy"
            :text-anchor="label.anchor"
            class="name"
            :class="{ back: label.back }"
          >
            {{ labelText(values.name) }}
          </text>
        </g>
      </g>
    </g>
  </g>
</template>

<style>
.plan .object text { pointer-events: none; }
.plan .object .name { pointer-events: auto; }
.plan .object .reach { fill: url(#hatch); stroke: var(--teal); stroke-width: 1.6; vector-effect: non-scaling-stroke; }
.plan .object .ray {
  stroke: var(--teal); stroke-width: 1.4; stroke-dasharray: 2 4; vector-effect: non-scaling-stroke; fill: none;
}
.plan .object .round {
  stroke: var(--pencil); stroke-width: 1.4; stroke-dasharray: 2 5; vector-effect: non-scaling-stroke;
  fill: none;
}
.plan .object .swing {
  stroke: var(--ink); stroke-width: 1.3; stroke-dasharray: 3 3; vector-effect: non-scaling-stroke; fill: none;
}
.plan .object .body { fill: #d6cdb9; stroke: #8d8677; stroke-width: 1.2; vector-effect: non-scaling-stroke; }
.plan .object .showing .body { fill: var(--ink); }
.plan .object .front { stroke: var(--ink); stroke-width: 2.6; vector-effect: non-scaling-stroke; fill: none; }
.plan .badge { cursor: pointer; outline: none; }
.plan .disc { fill: var(--page); stroke: var(--ink); stroke-width: 1.8; }
.plan .disc.lit { fill: #fbe9b8; }
.plan .icon { fill: var(--ink); }
.plan .collar { fill: none; stroke: #b9b2a3; stroke-width: 2.4; }
.plan .collar.now { stroke: var(--ink); }
.plan .name { paint-order: stroke; stroke: var(--paper); stroke-width: 4px; stroke-linejoin: round; }
.plan .badge:not(:hover, :focus-visible) .name.back { display: none; }
.plan .selected .disc { stroke-width: 3.2; } .plan .selected .name { font-weight: 700; }
.plan .badge:focus-visible .disc { stroke-width: 4; }
.plan .object .zone {
  fill: #22303c0d; stroke: var(--pencil); stroke-width: 1.2; stroke-dasharray: 6 5;
  vector-effect: non-scaling-stroke;
}
.plan .object .reach.itself { stroke-dasharray: 6 4; }
.plan .hollow .disc { stroke-dasharray: 3 3; }
.plan .hollow .body { fill: none; stroke-dasharray: 3 3; }
.plan .hollow .icon { fill: #77706a; }
</style>
