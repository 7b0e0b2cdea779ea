<script setup lang="ts">
import { computed } from 'vue'
import { beadPath, STRANDS } from './beads'
import { shortened } from './shortened'

export interface ThreadStage {
  key: string
  name: string
  notes: string[]
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
}>()
defineEmits<{ choose: [stage: string] }>()

const colour = computed(() => STRANDS[props.strand % STRANDS.length])
const step = computed(() => Math.min(146, Math.max(84, (props.width - 90) / Math.max(props.stages.length, 1))))
const at = (i: number): number => 26 + step.value * (i + 0.68)
const end = computed(() => at(props.stages.length - 1) + step.value * 0.53)
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
    :width="end + 64"
    :height="notes ? 60 + 16 * lines : 48"
    class="thread"
    role="group"
    :aria-label="`Thread of ${quest}`"
  >
    <g :stroke="colour" fill="none" stroke-width="3">
      <path :d="`M26 20H${end - 7}`" />
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
      role="button"
      tabindex="0"
      :aria-label="`${quest}: ${stage.name}`"
      :aria-pressed="stage.key === selected"
      :data-bead="stage.key"
      @click="$emit('choose', stage.key)"
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
.bead { cursor: pointer; outline: none; }
.bead:focus-visible path { stroke: var(--ink); stroke-width: 4; }
text { font-family: var(--text); fill: var(--ink); }
.name { font-size: 13px; }
.name.chosen { font-weight: 700; }
.note { font-size: 12.5px; fill: var(--pencil); }
</style>
