<script setup lang="ts">
import { computed, ref, shallowRef } from 'vue'
import { clock } from './clock'
import type { Told } from './connection'
import StripMarks, { type StripMark } from './StripMarks.vue'

/** The time of a walk as a strip: a mark for each thing that happened; any moment of it can be looked at. */
const props = defineProps<{ told: Told[]; now: number; at: number | null; parts?: number | null }>()
const emit = defineEmits<{ then: [tick: number] }>()
const SECOND = 30
const strip = ref<HTMLElement | null>(null)
const whole = computed(() => Math.max(props.now, SECOND))
const share = (tick: number): string => `${(100 * Math.min(tick, whole.value)) / whole.value}%`
const LOUD = ['stage', 'quest', 'ended', 'player_downed', 'moved', 'time_up']
const REFUSED = ['refused', 'unmet', 'not_allowed', 'cooling', 'missed']
const QUIET = ['near', 'away', 'crossed', 'hold_begun', 'hold_broken', 'sound', 'effect', 'arrived', 'notice']
/** One mark for each tick in which anything came about, the weightiest of it. */
const marks = computed(() => {
  const found = new Map<number, StripMark>()
  for (const { tick, what, text } of props.told) {
    if (QUIET.includes(what)) continue
    const look = LOUD.includes(what) ? 'loud' : REFUSED.includes(what) ? 'no' : ''
    const before = found.get(tick)
    if (!before || (look && !before.look)) found.set(tick, { tick, look, text })
  }
  return [...found.values()]
})
const shown = computed(() => props.at ?? props.now)
function tickAt(event: PointerEvent): number {
  const box = strip.value?.getBoundingClientRect()
  if (!box) return 0
  return Math.round(Math.min(Math.max((event.clientX - box.left) / box.width, 0), 1) * whole.value)
}
let asked = -1
function ask(tick: number): void {
  const next = Math.min(Math.max(tick, 0), props.now)
  if (next !== asked) emit('then', (asked = next))
}
function grab(event: PointerEvent): void {
  ;(event.currentTarget as HTMLElement).setPointerCapture(event.pointerId)
  asked = -1
  ask(tickAt(event))
}
/** What came about at the mark under the pointer. */
const pointed = shallowRef<StripMark>()
const NEAR_PX = 5
function drag(event: PointerEvent): void {
  const tick = tickAt(event)
  const near = ((strip.value?.clientWidth ?? 0) && (NEAR_PX * whole.value) / (strip.value?.clientWidth ?? 1)) || 0
  pointed.value = marks.value.find((m) => Math.abs(m.tick - tick) <= near)
  if (event.buttons) ask(tick)
}
/** The marks before and after, by keys. */
function onKey(event: KeyboardEvent): void {
  const ticks = marks.value.map((m) => m.tick)
  const to: Record<string, () => number> = {
    ArrowLeft: () => shown.value - SECOND,
    ArrowRight: () => shown.value + SECOND,
    PageUp: () => ticks.filter((t) => t < shown.value).pop() ?? 0,
    PageDown: () => ticks.find((t) => t > shown.value) ?? props.now,
    Home: () => 0,
    End: () => props.now,
  }
  const move = to[event.key]
  if (!move) return
  event.preventDefault()
  event.stopPropagation()
  asked = -1
  ask(move())
}
</script>

<template>
  <div class="strip">
    <div
      ref="strip"
      class="line"
      :style="{ '--whole': whole }"
      role="slider"
      tabindex="0"
      aria-label="The time of this walk"
      :aria-valuemin="0"
      :aria-valuemax="now"
      :aria-valuenow="shown"
      :aria-valuetext="clock(shown, true)"
      @pointerdown="grab"
      @pointermove="drag"
      @pointerleave="pointed = undefined"
      @keydown="onKey"
    >
      <span class="all" /><span class="gone" :style="{ width: share(shown) }" />
      <StripMarks :marks="marks" />
      <span v-if="pointed" class="says" :style="{ left: share(pointed.tick) }">{{ pointed.text }}</span>
      <span v-if="parts != null" class="parts" :style="{ left: share(parts) }" />
      <span v-if="at !== null" class="knob" :style="{ left: share(at) }"
        ><span class="mono">{{ clock(at, true) }}</span></span
      >
    </div>
    <p class="ends mono">
      <span>00:00</span>
      <span>{{ clock(now) }}</span>
    </p>
  </div>
</template>

<style scoped>
.strip { flex: none; height: 50px; padding: 15px 20px 0; border-top: 1px solid var(--night-rule); background: var(--night); }
.line { position: relative; height: 14px; cursor: ew-resize; touch-action: none; outline-offset: 4px; }
.all, .gone { position: absolute; left: 0; top: 6px; height: 2px; width: 100%; background: var(--night-rule); }
.gone { background: var(--chalk); }
.says {
  position: absolute; bottom: 16px; transform: translateX(-50%); padding: 1px 8px; border-radius: 4px; font-size: 12.5px;
  background: #0e1216; color: var(--chalk); white-space: nowrap; pointer-events: none; z-index: 4;
}
.parts { position: absolute; top: -1px; width: 0; height: 16px; border-left: 2px dotted var(--glow); }
.knob {
  position: absolute; top: 0; width: 14px; height: 14px; margin-left: -7px; border-radius: 7px; background: var(--glow);
  pointer-events: none;
}
.knob .mono {
  position: absolute; bottom: 14px; left: 7px; transform: translateX(-50%); white-space: nowrap;
  color: var(--glow); font-size: 12px;
}
.ends { display: flex; justify-content: space-between; color: var(--dusk); font-size: 12px; line-height: 1.3; }
</style>
