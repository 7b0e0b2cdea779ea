<script setup lang="ts">
import { computed, ref } from 'vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { asChoices } from '@/parts/choices'
import { ICON_NAMES } from '@/theme/icons'
import type { State, Subject } from './designs'

/** The states as one strip of boxes with the motion written between them. */
const props = defineProps<{ one: Subject; now: string }>()
const emit = defineEmits<{ own: [path: string, value: unknown, done?: boolean]; show: [from: string, to: string]; rename: [from: string, to: string, name: string]; drop: [state: string] }>()
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
  const key = name.toLowerCase().replace(/[^a-z0-9]+/g, '_').replace(/^_+|_+$/g, '')
  const fresh = /^state_\d+$/.test(state.key) && key && !states.value.some((s) => s.key === key)
  if (fresh) {
    emit('own', 'states', states.value.map((s) => (s.key === state.key ? { ...s, key, name } : s)))
    chosen.value = key
  } else emit('rename', state.key, key && !states.value.some((s) => s.key === key) ? key : state.key, name)
}
function yes(state: State, field: 'blocks' | 'lit' | 'reach_on' | 'lets_sight_through', value: string): void {
  emit('own', `states.${state.key}.${field}`, value === '1')
}
function number(path: string, text: string): void {
  const value = Number(text)
  if (Number.isFinite(value)) emit('own', path, value)
}
const EITHER = (on: string, off: string): { value: string; label: string }[] => [{ value: '1', label: on }, { value: '', label: off }]
</script>

<template>
  <SectionHead title="States" remember="states">
    <template #note><button class="link" @click="add">+ state</button></template>
    <div class="strip">
      <template v-for="(state, i) in states" :key="state.key">
        <span v-if="i > 0" class="motion small quiet"><button v-if="one.row" class="show" :aria-label="`Show the way from ${states[i - 1]!.name} to ${state.name} on the plan`" title="show it on the plan" @click="emit('show', states[i - 1]!.key, state.key)">▷</button> {{ between(states[i - 1]!, state) }}<template v-if="motion.seconds"> in <EditWord path="motion.seconds" :text="`${motion.seconds} s`" label="motion seconds" kind="number" :value="motion.seconds" :min="0" :max="600" @change="(v) => number('motion.seconds', v)" />, <EditWord path="motion.easing" :text="motion.easing" label="easing" kind="choice" :choices="[{ value: 'smooth', label: 'smooth' }, { value: 'even', label: 'even' }]" @change="(v) => emit('own', 'motion.easing', v)" /></template><template v-else>{{ ' ' }}<EditWord path="motion.seconds" text="at once" label="motion seconds" kind="number" :value="0" :min="0" @change="(v) => number('motion.seconds', v)" /></template></span>
        <button class="state" :class="{ now: state.key === now, chosen: state.key === chosen }" :aria-pressed="state.key === chosen" @click="chosen = chosen === state.key ? '' : state.key">{{ state.name }}</button>
      </template>
    </div>
    <p v-if="open" class="measure">
      <EditWord :text="open.name" label="state name" kind="text" @change="(v) => rename(open!, v)" />: it <EditWord :path="`states.${open!.key}.blocks`" :text="open.blocks ? 'blocks the way' : 'lets one through'" label="blocks" kind="choice" :choices="EITHER('blocks the way', 'lets one through')" @change="(v) => yes(open!, 'blocks', v)" /> and <EditWord :path="`states.${open!.key}.lets_sight_through`" :text="open.lets_sight_through ? 'lets sight through' : 'stops sight'" label="sight" kind="choice" :choices="EITHER('lets sight through', 'stops sight')" @change="(v) => yes(open!, 'lets_sight_through', v)" />, looks <EditWord :path="`states.${open!.key}.lit`" :text="open.lit ? 'lit' : 'plain'" label="look" kind="choice" :choices="EITHER('lit', 'plain')" @change="(v) => yes(open!, 'lit', v)" />, <EditWord :path="`states.${open!.key}.reach_on`" :text="open.reach_on ? 'can be reached' : 'cannot be reached'" label="reach on" kind="choice" :choices="EITHER('can be reached', 'cannot be reached')" @change="(v) => yes(open!, 'reach_on', v)" />, stands swung <EditWord :path="`states.${open!.key}.swing_deg`" :text="`${open.swing_deg}°`" label="swing" kind="number" :value="open.swing_deg" :step="5" @change="(v) => number(`states.${open!.key}.swing_deg`, v)" /> and slid <EditWord :path="`states.${open!.key}.slide_x_m`" :text="`${open.slide_x_m} m`" label="slide" kind="number" :value="open.slide_x_m" @change="(v) => number(`states.${open!.key}.slide_x_m`, v)" /> across, <EditWord :path="`states.${open!.key}.slide_y_m`" :text="`${open.slide_y_m} m`" label="slide ahead" kind="number" :value="open.slide_y_m" @change="(v) => number(`states.${open!.key}.slide_y_m`, v)" /> ahead; its sign is <EditWord :path="`states.${open!.key}.icon`" :text="open.icon || 'the usual one'" label="icon" kind="choice" :choices="[{ value: '', label: 'the usual one' }, ...asChoices(ICON_NAMES)]" @change="(v) => emit('own', `states.${open!.key}.icon`, v)" />. <button v-if="states.length > 1" class="link small quiet" @click="emit('drop', open!.key)">remove this state</button>
    </p>
    <p v-if="states.length > 1" class="quiet small">Used while moving: <EditWord path="motion.while_moving" :text="{ ignored: 'ignored', turned_back: 'turns back', queued: 'kept until it has arrived' }[motion.while_moving]" label="while moving" kind="choice" :choices="[{ value: 'turned_back', label: 'turns back' }, { value: 'ignored', label: 'ignored' }, { value: 'queued', label: 'kept until it has arrived' }]" @change="(v) => emit('own', 'motion.while_moving', v)" />; <EditWord path="motion.stay_clear" :text="motion.stay_clear ? 'never moves onto somebody' : 'moves whoever stands there or not'" label="stay clear" kind="choice" :choices="EITHER('never moves onto somebody', 'moves whoever stands there or not')" @change="(v) => emit('own', 'motion.stay_clear', v === '1')" />; the hinge lies at <EditWord path="motion.hinge_x_m" :text="`${motion.hinge_x_m}`" label="hinge across" kind="number" :value="motion.hinge_x_m" :step="0.05" @change="(v) => number('motion.hinge_x_m', v)" />, <EditWord path="motion.hinge_y_m" :text="`${motion.hinge_y_m} m`" label="hinge ahead" kind="number" :value="motion.hinge_y_m" :step="0.05" @change="(v) => number('motion.hinge_y_m', v)" /> of its middle.</p>
  </SectionHead>
</template>

<style scoped>
.strip { display: flex; flex-wrap: wrap; align-items: stretch; border: 1.5px solid var(--ink); border-radius: 5px; overflow: hidden; margin: 4px 0; }
.state { padding: 3px 14px; font-weight: 600; }
.state.now { background: var(--shade); }
.state.chosen { box-shadow: inset 0 -3px var(--ink); }
.show { padding: 0 4px; } .show:hover { color: var(--ink); background: var(--shade); border-radius: 3px; }
.motion { flex: 1; text-align: center; padding: 4px 8px; border-left: 1px solid var(--rules); border-right: 1px solid var(--rules); }
</style>
