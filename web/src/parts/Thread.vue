<script setup lang="ts">
import { computed, ref } from 'vue'
import { beadPath, STRANDS } from './beads'
import { middles, useOrdering } from './ordering'
import { shortened } from './shortened'
import { saidOf, type Mark } from '@/stores/findings'

export interface ThreadStage {
  key: string
  name: string
  notes: string[]
  /** What a finding says of it. */
  flag?: Mark | undefined
}
/** One quest drawn as a strand with a bead a stage. */
const props = defineProps<{
  quest: string
  stages: ThreadStage[]
  bead: string
  strand: number
  now: string
  status: string
  selected: string
  notes: boolean
  width: number
  /** How it can go on; nothing while that is not known. */
  ways: readonly { start: string; to: string }[] | null
  /** Whether its beads are dragged into another order. */
  movable?: boolean
}>()
const emit = defineEmits<{ choose: [stage: string]; move: [stage: string, before: string | null] }>()
const strung = ref<SVGElement | null>(null)
const drag = useOrdering(
  'clientX',
  () => middles(strung.value?.querySelectorAll('.bead') ?? [], 'clientX'),
  (id, before) => {
    const moved = props.stages[id]
    if (moved) emit('move', moved.key, before === null ? null : (props.stages[before]?.key ?? null))
  },
)
/** Where a bead that is dragged would come to hang. */
const landing = computed(() => {
  const to = drag.held.value
  if (!to) return null
  return to.before === null ? at(props.stages.length - 1) + step.value / 2 - 8 : at(to.before) - step.value / 2
})

const colour = computed(() => STRANDS[props.strand % STRANDS.length])
const step = computed(() => Math.min(146, Math.max(84, (props.width - 90) / Math.max(props.stages.length, 1))))
const at = (i: number): number => 26 + step.value * (i + 0.68)
const end = computed(() => at(props.stages.length - 1) + step.value * 0.53)
const TOP = 20
/** The places of a way on the strand: the offer before all beads, the end after them. */
function place(key: string): number {
  if (key === 'offered') return -1
  if (key === 'done') return props.stages.length
  return props.stages.findIndex((s) => s.key === key)
}
const x = (number: number): number => (number < 0 ? 26 : number < props.stages.length ? at(number) : end.value)
const known = computed(() => (props.ways ?? []).map((w) => ({ ...w, a: place(w.start), b: place(w.to) })))
/** From each place to the next: solid where a way leads there. */
const spine = computed(() =>
  [...props.stages.keys(), props.stages.length].map((to) => ({
    to,
    line: `M${x(to - 1)} 20H${x(to) - (to === props.stages.length ? 7 : 0)}`,
    open: props.ways === null || known.value.some((w) => w.a === to - 1 && w.b === to),
  })),
)
/** Ways that leave the strand: past a bead, or back. */
const forks = computed(() =>
  known.value
    .filter((w) => w.to !== 'failed' && w.b >= 0 && w.b !== w.a + 1)
    .map(({ start, to, a, b }) => {
      const [from, on] = [x(a), x(b)]
      const high = 20 - Math.min(34, 16 + Math.abs(b - a) * 6)
      return {
        start,
        to,
        line: `M${from} 10C${from} ${high} ${on} ${high} ${on} 9`,
        tip: `M${on - 4} 4L${on} 10L${on + 4} 4`,
      }
    }),
)
const fails = computed(() =>
  known.value.filter((w) => w.to === 'failed' && w.a >= 0).map((w) => ({ start: w.start, at: x(w.a) })),
)
const top = computed(() => (forks.value.length || fails.value.length ? TOP : 0))
const lines = computed(() => Math.min(2, Math.max(0, ...props.stages.map((s) => s.notes.length))))
const started = computed(() => ['active', 'ready', 'done'].includes(props.status))
const nowAt = computed(() =>
  props.status === 'done'
    ? props.stages.length
    : started.value
      ? props.stages.findIndex((s) => s.key === props.now)
      : -1,
)
</script>

<template>
  <svg
    ref="strung"
    :width="end + 64"
    :height="(notes ? 60 + 16 * lines : 48) + top"
    :viewBox="`0 ${-top} ${end + 64} ${(notes ? 60 + 16 * lines : 48) + top}`"
    class="thread"
    role="group"
    :aria-label="`Thread of ${quest}`"
  >
    <g :stroke="colour" fill="none" stroke-width="3">
      <path
        v-for="one in spine"
        :key="one.to"
        :d="one.line"
        :stroke-dasharray="one.open ? undefined : '2 6'"
        :data-open="one.open"
      />
      <g v-for="one in forks" :key="`${one.start} ${one.to}`" stroke-width="2.2" :data-fork="`${one.start}-${one.to}`">
        <path :d="one.line" />
        <path :d="one.tip" />
      </g>
      <g v-for="one in fails" :key="`f${one.start}`" stroke-width="2.2" :data-fails="one.start">
        <title>It can fail here</title>
        <path :d="`M${one.at + 7} 12L${one.at + 18} 1`" />
        <path :d="`M${one.at + 18} -9l9 9m0-9l-9 9`" />
      </g>
      <path d="M26 12v16" />
      <circle :cx="end" cy="20" r="8.5" stroke-width="2" fill="var(--paper)" />
      <circle :cx="end" cy="20" r="4.2" stroke-width="2" :fill="nowAt === stages.length ? colour : 'none'" />
    </g>
    <text v-if="notes" x="26" y="48" class="note" text-anchor="middle">offered</text>
    <text :x="end + 15" y="24" class="note">done</text>
    <g
      v-for="(stage, i) in stages"
      :key="stage.key"
      class="bead"
      :class="{ movable, held: drag.held.value?.id === i }"
      :data-id="i"
      role="button"
      tabindex="0"
      :aria-label="`${quest}: ${stage.name}${stage.flag ? `, ${stage.flag.weight}: ${saidOf(stage.flag)}` : ''}`"
      :aria-pressed="stage.key === selected"
      :data-bead="stage.key"
      @click="$emit('choose', stage.key)"
      @pointerdown="(e) => movable && drag.take(e, i)"
      @keydown.enter.exact.prevent="$emit('choose', stage.key)"
      @keydown.space.prevent="$emit('choose', stage.key)"
    >
      <rect :x="at(i) - 44" y="2" width="88" height="50" fill="transparent" />
      <circle v-if="i === nowAt" :cx="at(i)" cy="20" r="15" fill="none" stroke="var(--ink)" stroke-width="2.5" />
      <path
        :d="beadPath(bead)"
        :transform="`translate(${at(i)} 20)`"
        :stroke="colour"
        stroke-width="2.6"
        :fill="i < nowAt ? colour : 'var(--page)'"
      />
      <g v-if="stage.flag" :transform="`translate(${at(i) + 9} -2)`" data-pennant>
        <title>{{ saidOf(stage.flag) }}</title>
        <path
          class="flag"
          :class="stage.flag.weight.replaceAll(' ', '-')"
          :d="stage.flag.weight === 'worth a look' ? 'M0 16V0H11' : 'M0 16V0H12L9 4L12 8H0'"
        />
      </g>
      <text
        :x="at(i)"
        y="46"
        class="name"
        :class="{ chosen: stage.key === selected || i === nowAt }"
        text-anchor="middle"
      >
        {{ shortened(stage.name, Math.min(20, Math.floor(step / 6.8))) }}
        <title>{{ stage.name }}</title>
      </text>
    </g>
    <path v-if="landing !== null" class="landing" :d="`M${landing} 2v36`" />
    <template v-if="notes">
      <g v-for="(stage, i) in stages" :key="`n${stage.key}`">
        <text
          v-for="(note, n) in stage.notes.slice(0, 2)"
          :key="n"
          :x="at(i)"
          :y="64 + n * 16"
          class="note"
          text-anchor="middle"
        >
          {{ shortened(note, Math.min(22, Math.floor(step / 6.3))) }}
          <title>{{ note }}</title>
        </text>
      </g>
    </template>
  </svg>
</template>

<style scoped>
.thread { display: block; overflow: visible; }
.bead { cursor: pointer; outline: none; touch-action: none; }
.flag { fill: var(--paper); stroke: var(--amber); stroke-width: 1.7; }
.flag.stops-it { fill: var(--amber); } .flag.worth-a-look { fill: none; }
.bead.held { opacity: 0.55; }
.landing { stroke: var(--ink); stroke-width: 3; }
.bead:focus-visible path { stroke: var(--ink); stroke-width: 4; }
text { font-family: var(--text); fill: var(--ink); }
.name { font-size: 13px; }
.name.chosen { font-weight: 700; }
.note { font-size: 12.5px; fill: var(--pencil); }
</style>
