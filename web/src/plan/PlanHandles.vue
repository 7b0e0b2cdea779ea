<script setup lang="ts">
import { computed } from 'vue'
import type { Placed } from './designs'
import { reachMiddle, snapped, turned, type Point } from './geometry'
import { handlesOf, type Handles } from './handles'
import type { Label } from './labels'
import { rounded, track, type WorldAt } from './track'

/**
 * The handles of the selected object: size, arms and depth of its reach, turn, hinge, where states stand, way-points.
 */
const props = defineProps<{ one: Placed; labels: Record<string, Label>; worldAt: WorldAt }>()
const emit = defineEmits<{
  own: [path: string, value: unknown, done: boolean]
  row: [values: Record<string, unknown>, done: boolean]
}>()

const values = computed(() => props.one.row.values)
const reach = computed(() => props.one.design.reach)
const motion = computed(() => props.one.design.motion)
const middle = computed(() => reachMiddle(props.one))
const at = computed(() => handlesOf(props.one))
/** From the level to the object's own axes. */
function into(p: Point): Point {
  return turned({ x: p.x - values.value.x_m, y: p.y - values.value.y_m }, -values.value.turn_deg)
}
function drag(event: PointerEvent, change: (p: Point, free: boolean, done: boolean) => void): void {
  const moved = (e: PointerEvent, done: boolean): void => change(props.worldAt(e), e.shiftKey, done)
  track(
    event,
    (e) => moved(e, false),
    (e) => moved(e, true),
  )
}
function step(value: number, free: boolean): number {
  return Math.max(0.1, free ? rounded(value) : rounded(value, 10))
}
function grabSize(event: PointerEvent): void {
  drag(event, (p, free, done) => {
    if (reach.value.shape === 'box')
      emit(
        'own',
        'reach.width_m',
        step(
          Math.abs(turned({ x: p.x - middle.value.x, y: p.y - middle.value.y }, -values.value.turn_deg).x) * 2,
          free,
        ),
        done,
      )
    else emit('own', 'reach.radius_m', step(Math.hypot(p.x - middle.value.x, p.y - middle.value.y), free), done)
  })
}
function grabDepth(event: PointerEvent): void {
  drag(event, (p, free, done) =>
    emit(
      'own',
      'reach.depth_m',
      step(Math.abs(turned({ x: p.x - middle.value.x, y: p.y - middle.value.y }, -values.value.turn_deg).y) * 2, free),
      done,
    ),
  )
}
function grabArm(event: PointerEvent): void {
  drag(event, (p, free, done) => {
    const local = turned({ x: p.x - middle.value.x, y: p.y - middle.value.y }, -values.value.turn_deg)
    const half = Math.abs((Math.atan2(local.y, local.x) * 180) / Math.PI)
    emit(
      'own',
      'reach.arc_deg',
      Math.min(360, Math.max(5, Math.round((half * 2) / (free ? 1 : 5)) * (free ? 1 : 5))),
      done,
    )
  })
}
function grabHinge(event: PointerEvent): void {
  drag(event, (p, free, done) => {
    const local = into(p)
    emit('own', 'motion', { ...motion.value, hinge_x_m: step2(local.x, free), hinge_y_m: step2(local.y, free) }, done)
  })
}
function step2(value: number, free: boolean): number {
  return free ? rounded(value) : rounded(value, 20)
}
function grabEnd(event: PointerEvent, end: Handles['ends'][number]): void {
  const h = { x: motion.value.hinge_x_m, y: motion.value.hinge_y_m }
  const rest = Math.atan2(-2 * h.y, -2 * h.x || 1)
  drag(event, (p, free, done) => {
    const local = into(p)
    const name = `states.${end.state.key}`
    if (end.swing) {
      const raw = ((Math.atan2(local.y - h.y, local.x - h.x) - rest) * 180) / Math.PI
      const turn = Math.round((((raw + 540) % 360) - 180) / (free ? 1 : 5)) * (free ? 1 : 5)
      emit('own', `${name}.swing_deg`, turn || (free ? 1 : 5), done)
    } else emit('own', `${name}.slide_x_m`, Math.abs(local.x) < 0.05 ? 0.1 : step2(local.x, free), done)
  })
}
function grabStop(event: PointerEvent, i: number): void {
  drag(event, (p, free, done) =>
    emit(
      'row',
      { round: values.value.round.map((old, n) => (n === i ? [snapped(p.x, free), snapped(p.y, free)] : old)) },
      done,
    ),
  )
}
function grabTurn(event: PointerEvent): void {
  drag(event, (p, free, done) => {
    const raw = (Math.atan2(p.y - values.value.y_m, p.x - values.value.x_m) * 180) / Math.PI + 90
    emit('row', { turn_deg: (Math.round(raw / (free ? 1 : 15)) * (free ? 1 : 15) + 720) % 360 }, done)
  })
}
const ARROWS: Record<string, number> = { ArrowUp: 1, ArrowRight: 1, ArrowDown: -1, ArrowLeft: -1 }
/** A handle by keyboard: an arrow is one step. */
function key(event: KeyboardEvent, path: string, now: number, by: number, low: number): void {
  const sign = ARROWS[event.key]
  if (!sign) return
  event.preventDefault()
  event.stopPropagation()
  emit('own', path, Math.max(low, rounded(now + sign * by)), true)
}
</script>

<template>
  <g class="grab handles">
    <g v-if="at.size" :transform="`translate(${at.size.at.x} ${at.size.at.y})`"
      ><g class="fixed">
        <circle
          class="handle"
          r="6"
          role="slider"
          tabindex="0"
          aria-label="Reach, drag to size"
          :aria-valuenow="reach.radius_m"
          data-handle="reach"
          @pointerdown="grabSize"
          @keydown="
            (e) =>
              reach.shape === 'box'
                ? key(e, 'reach.width_m', reach.width_m, 0.1, 0.1)
                : key(e, 'reach.radius_m', reach.radius_m, 0.1, 0.1)
          "
        />
        <text class="reach-says" :x="labels.size?.dx" :y="labels.size?.dy" :text-anchor="labels.size?.anchor">{{
          at.size.says
        }}</text>
      </g></g
    >
    <g v-if="at.depth" :transform="`translate(${at.depth.x} ${at.depth.y})`"
      ><circle
        class="handle fixed"
        r="5"
        role="slider"
        tabindex="0"
        aria-label="Depth of the reach"
        :aria-valuenow="reach.depth_m"
        data-handle="depth"
        @pointerdown="grabDepth"
        @keydown="(e) => key(e, 'reach.depth_m', reach.depth_m, 0.1, 0.1)"
    /></g>
    <g v-if="at.arm" :transform="`translate(${at.arm.at.x} ${at.arm.at.y})`"
      ><g class="fixed"
        ><circle
          class="handle"
          r="5"
          role="slider"
          tabindex="0"
          aria-label="Opening of the reach"
          :aria-valuenow="reach.arc_deg"
          data-handle="arm"
          @pointerdown="grabArm"
          @keydown="(e) => key(e, 'reach.arc_deg', reach.arc_deg, 5, 5)"
        /><text class="reach-says" :x="labels.arm?.dx" :y="labels.arm?.dy" :text-anchor="labels.arm?.anchor">{{
          at.arm.says
        }}</text></g
      ></g
    >
    <g v-if="at.hinge" :transform="`translate(${at.hinge.x} ${at.hinge.y})`"
      ><g class="fixed"
        ><rect
          class="ink-handle"
          x="-4.5"
          y="-4.5"
          width="9"
          height="9"
          role="slider"
          tabindex="0"
          aria-label="Hinge along the body"
          :aria-valuenow="motion.hinge_x_m"
          data-handle="hinge"
          @pointerdown="grabHinge"
          @keydown="(e) => key(e, 'motion.hinge_x_m', motion.hinge_x_m, 0.05, -10000)" /></g
    ></g>
    <g v-for="end in at.ends" :key="end.state.key" :transform="`translate(${end.at.x} ${end.at.y})`"
      ><g class="fixed"
        ><circle
          class="ink-handle"
          r="5"
          role="slider"
          tabindex="0"
          :aria-label="`Where it stands when ${end.state.name}`"
          :aria-valuenow="end.swing ? end.state.swing_deg : end.state.slide_x_m"
          :data-handle="`end-${end.state.key}`"
          @pointerdown="(e) => grabEnd(e, end)"
          @keydown="
            (e) =>
              end.swing
                ? key(e, `states.${end.state.key}.swing_deg`, end.state.swing_deg, 5, -3600)
                : key(e, `states.${end.state.key}.slide_x_m`, end.state.slide_x_m, 0.1, -10000)
          "
        /><text
          class="end-says"
          :x="labels[end.key]?.dx"
          :y="labels[end.key]?.dy"
          :text-anchor="labels[end.key]?.anchor"
          >{{ end.says }}</text
        ></g
      ></g
    >
    <g v-for="stop in at.stops" :key="stop.i" :transform="`translate(${stop.at.x} ${stop.at.y})`"
      ><g class="fixed"
        ><circle
          class="ink-handle"
          r="5"
          role="slider"
          tabindex="-1"
          :aria-label="`Way-point ${stop.i + 1}`"
          :aria-valuenow="stop.i"
          :data-handle="`stop-${stop.i}`"
          @pointerdown="(e) => grabStop(e, stop.i)"
        /><text class="end-says" x="8" y="-5">{{ stop.i + 1 }}</text></g
      ></g
    >
    <g :transform="`translate(${values.x_m} ${values.y_m}) rotate(${values.turn_deg})`">
      <g class="fixed"
        ><path d="M0 20V46" stroke="var(--ink)" stroke-width="1.2" /><circle
          class="turn-handle"
          cy="50"
          r="4.5"
          role="slider"
          tabindex="-1"
          aria-label="Turn"
          :aria-valuenow="values.turn_deg"
          data-handle="turn"
          @pointerdown="grabTurn"
      /></g>
    </g>
  </g>
</template>
