<script setup lang="ts">
import { asKey } from '@/parts/cueNames'
import { computed, ref } from 'vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import type { SentencePart } from '@/parts/fields'
import type { State, Subject } from './designs'
import { MOTION, STATE } from './fields'

/** The states as one strip of boxes with the motion written between them. */
const props = defineProps<{ one: Subject; now: string }>()
const emit = defineEmits<{
  own: [path: string, value: unknown, done?: boolean]
  show: [from: string, to: string]
  rename: [from: string, to: string, name: string]
  drop: [state: string]
}>()
const states = computed(() => props.one.design.states)
const motion = computed(() => props.one.design.motion)
const chosen = ref('')
const open = computed(() => states.value.find((s) => s.key === chosen.value))

function between(from: State, to: State): string {
  const swing = to.swing_deg - from.swing_deg
  const slide = Math.hypot(to.slide_x_m - from.slide_x_m, to.slide_y_m - from.slide_y_m)
  return swing ? `swings ${swing}°` : slide ? `slides ${slide.toFixed(1)} m` : 'turns'
}
function add(): void {
  const last = states.value[states.value.length - 1]
  let n = states.value.length + 1
  while (states.value.some((s) => s.key === `state_${n}`)) n++
  emit('own', 'states', [...states.value, { ...last, key: `state_${n}`, name: `state ${n}` }])
  chosen.value = `state_${n}`
}
function rename(state: State, name: string): void {
  const key = asKey(name)
  const fresh = /^state_\d+$/.test(state.key) && key && !states.value.some((s) => s.key === key)
  if (fresh) {
    emit(
      'own',
      'states',
      states.value.map((s) => (s.key === state.key ? { ...s, key, name } : s)),
    )
    chosen.value = key
  } else emit('rename', state.key, key && !states.value.some((s) => s.key === key) ? key : state.key, name)
}
const put = (field: string, value: unknown, done: boolean): void => {
  if (open.value) emit('own', `states.${open.value.key}.${field}`, value, done)
}
const putMotion = (field: string, value: unknown, done: boolean): void => emit('own', `motion.${field}`, value, done)
const OF_A_STATE: SentencePart[] = [
  ': it {blocks} and {lets_sight_through}, looks {lit}, {reach_on}, stands swung {swing_deg} ',
  'and slid {slide_x_m} across, {slide_y_m} ahead; its sign is {icon}. ',
]
const OF_MOTION: SentencePart[] = [
  'Used while moving: {while_moving}; {stay_clear}; ',
  'the hinge lies at {hinge_x_m}, {hinge_y_m} of its middle.',
]
</script>

<template>
  <SectionHead title="States" remember="states">
    <template #note><button class="link" @click="add">+ state</button></template>
    <div class="strip">
      <template v-for="(state, i) in states" :key="state.key">
        <span v-if="i > 0" class="motion small quiet">
          <button
            v-if="one.row"
            v-tooltip="'show it on the plan'"
            class="show"
            :aria-label="`Show the way from ${states[i - 1]!.name} to ${state.name} on the plan`"
            @click="emit('show', states[i - 1]!.key, state.key)"
          >
            ▷
          </button>
          {{ between(states[i - 1]!, state) }}
          <Sentence
            of="Motion"
            :fields="MOTION"
            :values="motion"
            :parts="[motion.seconds ? 'in {seconds}, {easing}' : '{seconds}']"
            at="motion"
            @put="putMotion"
          />
        </span>
        <button
          class="state"
          :class="{ now: state.key === now, chosen: state.key === chosen }"
          :aria-pressed="state.key === chosen"
          @click="chosen = chosen === state.key ? '' : state.key"
        >
          {{ state.name }}
        </button>
      </template>
    </div>
    <p v-if="open" class="measure">
      <EditWord :text="open.name" label="state name" kind="text" @change="(v) => open && rename(open, v)" />
      <Sentence of="State" :fields="STATE" :values="open" :parts="OF_A_STATE" :at="`states.${open.key}`" @put="put" />
      <button v-if="states.length > 1" class="link small quiet" @click="emit('drop', open.key)">
        remove this state
      </button>
    </p>
    <p v-if="states.length > 1" class="quiet small">
      <Sentence of="Motion" :fields="MOTION" :values="motion" :parts="OF_MOTION" at="motion" @put="putMotion" />
    </p>
  </SectionHead>
</template>

<style scoped>
.strip {
  display: flex; flex-wrap: wrap; align-items: stretch; border: 1.5px solid var(--ink); border-radius: 5px;
  overflow: hidden; margin: 4px 0;
}
.state { padding: 3px 14px; font-weight: 600; }
.state.now { background: var(--shade); }
.state.chosen { box-shadow: inset 0 -3px var(--ink); }
.show { padding: 0 4px; } .show:hover { color: var(--ink); background: var(--shade); border-radius: 3px; }
.motion {
  flex: 1; text-align: center; padding: 4px 8px; border-left: 1px solid var(--rules);
  border-right: 1px solid var(--rules);
}
</style>
