<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import EditWord from '@/parts/EditWord.vue'
import PromptPicture from '@/parts/PromptPicture.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { asChoices } from '@/parts/choices'
import { useBook } from '@/stores/book'
import type { Subject } from './designs'

/** The prompts of an object: each as the player sees it, with its reach in words. */
const props = defineProps<{ one: Subject; live: Schemas['LiveObject'] | undefined }>()
const emit = defineEmits<{ own: [path: string, value: unknown, done?: boolean]; button: [path: string, buttons: unknown[], text: string] }>()
const book = useBook()
const chosen = ref(0)

const reach = computed(() => props.one.design.reach)
const prompts = computed(() => props.one.design.prompts)
const prompt = computed(() => prompts.value[Math.min(chosen.value, prompts.value.length - 1)])
const controls = computed(() => book.settings?.values.controls ?? [])
const shown = computed(() => props.live?.prompts.find((p) => p.key === prompt.value?.key))
const cap = computed(() => (controls.value.find((c) => c.key === prompt.value?.control)?.keys[0] ?? '?').toUpperCase())
const SHAPES = ['circle', 'box', 'wedge', 'none']
const UNUSABLE = [{ value: 'hidden', label: 'hidden' }, { value: 'dimmed', label: 'dimmed with the reason' }, { value: 'usual', label: 'shown as usual' }]

function put(field: string, value: unknown, done = true): void {
  if (prompt.value) emit('own', `prompts.${prompt.value.key}.${field}`, value, done)
}
function number(path: string, value: string, done: boolean): void {
  const parsed = Number(value)
  if (Number.isFinite(parsed)) emit('own', path, parsed, done)
}
/** A button and the cue that waits for it, so that it works at once. */
function addButton(): void {
  if (!prompt.value) return
  let n = prompt.value.buttons.length + 1
  while (prompts.value.some((p) => p.buttons.some((b) => b.key === `button_${n}`))) n++
  const buttons = [...prompt.value.buttons, { key: `button_${n}`, wording: `Button ${n}` }]
  emit('button', `prompts.${prompt.value.key}.buttons`, buttons, `when chosen button_${n}\nthen\n  say "Button ${n}."`)
}
function setButton(i: number, wording: string): void {
  put('buttons', prompt.value?.buttons.map((b, n) => (n === i ? { ...b, wording } : b)))
}
const rest = useStorage('reach-rest', false)
/** What is as usual for a reach, in grey. */
const usual = computed(() => [...(reach.value.who.join() === 'player' ? ['player only'] : []), `its own floor ${reach.value.above_m === 1 && reach.value.below_m === 1 ? 'and a metre about' : 'band'}`, ...(reach.value.priority ? [] : ['no priority'])].join(', '))
const WHO = computed(() => [{ value: 'player', label: 'the player' }, { value: 'characters', label: 'any character' }, { value: 'player,characters', label: 'the player and any character' }, ...book.of('tag').map((t) => ({ value: t.key, label: `whatever is tagged ${t.values.name}` })), ...book.of('tag').map((t) => ({ value: `player,${t.key}`, label: `the player and whatever is tagged ${t.values.name}` }))])
const whoWords = computed(() => WHO.value.find((w) => w.value === reach.value.who.join(','))?.label ?? reach.value.who.map((w) => book.name(w)).join(' and '))
function demand(path: string, value: string, usual: number): void {
  emit('own', path, value === 'any' ? null : usual)
}
function add(): void {
  const keys = prompts.value.map((p) => p.key)
  let n = 1
  while (keys.includes(`p${n}`)) n++
  const fresh = { key: `p${n}`, wording: 'Use {object}', control: controls.value[0]?.key ?? 'use', states: [], hold_s: 0, when_unusable: 'dimmed', place: 'object', offset_x_m: 0, offset_y_m: 0, screen_x: 0.5, screen_y: 0.86, opens_s: null, buttons: [] }
  emit('own', 'prompts', [...prompts.value, fresh])
  chosen.value = prompts.value.length
}
function drop(): void {
  emit('own', 'prompts', prompts.value.filter((p) => p.key !== prompt.value?.key))
  chosen.value = 0
}
const stateWords = computed(() => {
  const names = (prompt.value?.states ?? []).map((k) => props.one.design.states.find((s) => s.key === k)?.name ?? k)
  return names.length ? names.join(' or ') : 'in any state'
})
const stateChoices = computed(() => [{ value: '', label: 'in any state' }, ...props.one.design.states.map((s) => ({ value: s.key, label: s.name }))])
const plainWording = computed(() => (prompt.value?.wording ?? '').replaceAll('{object}', (props.one.row ?? props.one.kind)?.values.name ?? '').replaceAll('{control}', cap.value))
</script>

<template>
  <SectionHead title="Prompt" remember="prompt">
    <template #note>
      <span v-if="prompts.length > 1"><button v-for="(p, i) in prompts" :key="p.key" class="tab" :class="{ here: p.key === prompt?.key }" @click="chosen = i">{{ p.states.length ? p.states.join(', ').replaceAll('_', ' ') : p.key }}</button></span>
      <button class="link" @click="add">+ prompt</button>
    </template>
    <div v-if="prompt" class="both">
      <PromptPicture :path="`prompts.${prompt.key}.wording`" :cap="cap" :shown="shown?.wording ?? plainWording" :wording="prompt.wording" :hold="prompt.hold_s > 0" :reason="shown && !shown.usable && prompt.when_unusable === 'dimmed' ? shown.reason : ''" :usable="shown?.usable" @change="(v) => put('wording', v)" />
      <p>
        <EditWord :path="`prompts.${prompt!.key}.hold_s`" :text="prompt.hold_s > 0 ? 'Hold' : 'Press'" label="press or hold" kind="choice" :choices="[{ value: '0', label: 'press' }, { value: '1', label: 'hold' }]" @change="(v) => put('hold_s', Number(v))" />
        {{ ' ' }}<span class="key">{{ cap }}</span> <EditWord :path="`prompts.${prompt!.key}.control`" :text="controls.find((c) => c.key === prompt?.control)?.name ?? prompt.control" label="control" kind="choice" :choices="controls.map((c) => ({ value: c.key, label: c.name }))" @change="(v) => put('control', v)" /><template v-if="prompt.hold_s > 0"> for <EditWord :path="`prompts.${prompt!.key}.hold_s`" :text="`${prompt.hold_s.toFixed(1)} s`" label="hold seconds" kind="number" :value="prompt.hold_s" :min="0.1" :max="60" @live="(v) => number(`prompts.${prompt!.key}.hold_s`, v, false)" @change="(v) => number(`prompts.${prompt!.key}.hold_s`, v, true)" /></template>, while <EditWord :path="`prompts.${prompt!.key}.states`" :text="stateWords" label="states" kind="choice" :choices="stateChoices" @change="(v) => put('states', v ? [v] : [])" />, shown <EditWord :path="`prompts.${prompt!.key}.place`" :text="prompt.place === 'object' ? 'above it' : 'fixed on the screen'" label="place" kind="choice" :choices="[{ value: 'object', label: 'above it' }, { value: 'screen', label: 'fixed on the screen' }]" @change="(v) => put('place', v)" /><template v-if="prompt.place === 'screen'"> at <EditWord :path="`prompts.${prompt!.key}.screen_x`" :text="`${Math.round(prompt.screen_x * 100)} %`" label="across the screen, percent" kind="number" :value="Math.round(prompt.screen_x * 100)" :step="1" :min="0" :max="100" @change="(v) => put('screen_x', Number(v) / 100)" /> across, <EditWord :path="`prompts.${prompt!.key}.screen_y`" :text="`${Math.round(prompt.screen_y * 100)} %`" label="down the screen, percent" kind="number" :value="Math.round(prompt.screen_y * 100)" :step="1" :min="0" :max="100" @change="(v) => put('screen_y', Number(v) / 100)" /> down</template><template v-else-if="prompt.offset_x_m || prompt.offset_y_m"> beside it by <EditWord :path="`prompts.${prompt!.key}.offset_x_m`" :text="`${prompt.offset_x_m} m`" label="offset east" kind="number" :value="prompt.offset_x_m" @change="(v) => put('offset_x_m', Number(v))" /> east and <EditWord :path="`prompts.${prompt!.key}.offset_y_m`" :text="`${prompt.offset_y_m} m`" label="offset north" kind="number" :value="prompt.offset_y_m" @change="(v) => put('offset_y_m', Number(v))" /> north</template><template v-if="rest">, opening in <EditWord :path="`prompts.${prompt!.key}.opens_s`" :text="prompt.opens_s === null ? 'the usual time' : `${prompt.opens_s} s`" label="opening seconds, empty for the usual" kind="number" :value="prompt.opens_s ?? ''" :min="0" :max="5" @change="(v) => put('opens_s', v.trim() ? Number(v) : null)" /></template>. Not usable yet: <EditWord :path="`prompts.${prompt!.key}.when_unusable`" :text="UNUSABLE.find((u) => u.value === prompt?.when_unusable)?.label ?? ''" label="not usable yet" kind="choice" :choices="UNUSABLE" @change="(v) => put('when_unusable', v)" />. <button v-if="prompt.place === 'object' && !prompt.offset_x_m && !prompt.offset_y_m" class="link small quiet" @click="put('offset_y_m', 0.5)">move it aside</button> <button class="link small quiet" @click="addButton">+ button</button> <button class="link small quiet" @click="drop">remove</button>
        <span v-if="prompt.buttons.length" class="panel">A panel: <template v-for="(b, i) in prompt.buttons" :key="b.key">{{ i ? ' · ' : '' }}<EditWord :text="b.wording" :label="`button ${i + 1}`" kind="text" @change="(v) => setButton(i, v)" /> <span class="mono small quiet">{{ b.key }}</span> <button class="link small quiet" :aria-label="`Remove the button ${b.wording}`" @click="put('buttons', prompt!.buttons.filter((_, n) => n !== i))">×</button></template></span>
      </p>
    </div>
    <slot />
    <p v-if="!prompt" class="quiet">It offers the player no control. <button class="link" @click="add">Add a prompt</button></p>
    <p class="measure">
      Reach is <template v-if="reach.shape !== 'none'">a </template><EditWord path="reach.shape" look="reach" :text="reach.shape === 'none' ? 'none' : reach.shape" label="reach shape" kind="choice" :choices="asChoices(SHAPES)" @change="(v) => emit('own', 'reach.shape', v)" />
      <template v-if="reach.shape === 'box'"> of <EditWord path="reach.width_m" look="reach" :text="`${reach.width_m} m`" label="reach width" kind="number" :value="reach.width_m" :min="0.1" @live="(v) => number('reach.width_m', v, false)" @change="(v) => number('reach.width_m', v, true)" /> by <EditWord path="reach.depth_m" look="reach" :text="`${reach.depth_m} m`" label="reach depth" kind="number" :value="reach.depth_m" :min="0.1" @live="(v) => number('reach.depth_m', v, false)" @change="(v) => number('reach.depth_m', v, true)" /></template>
      <template v-else-if="reach.shape !== 'none'"> of <EditWord path="reach.radius_m" look="reach" :text="`${reach.radius_m} m`" label="reach size" kind="number" :value="reach.radius_m" :min="0.1" @live="(v) => number('reach.radius_m', v, false)" @change="(v) => number('reach.radius_m', v, true)" /></template><template v-if="reach.shape === 'wedge'">, opening <EditWord path="reach.arc_deg" look="reach" :text="`${reach.arc_deg}°`" label="reach arc" kind="number" :value="reach.arc_deg" :step="5" :min="5" :max="360" @change="(v) => number('reach.arc_deg', v, true)" /></template>
      <template v-if="reach.shape !== 'none'">
        that <EditWord path="reach.moves_with_part" look="reach" :text="reach.moves_with_part ? 'moves with the part' : 'stays put'" label="stays put" kind="choice" :choices="[{ value: '', label: 'stays put' }, { value: '1', label: 'moves with the part' }]" @change="(v) => emit('own', 'reach.moves_with_part', v === '1')" />,
        <template v-if="reach.facing_deg === null || reach.facing_deg === undefined"><EditWord path="reach.facing_deg" look="reach" text="facing anywhere" label="facing" kind="choice" :choices="[{ value: 'any', label: 'facing anywhere' }, { value: '70', label: 'facing it' }]" @change="(v) => demand('reach.facing_deg', v, 70)" /></template>
        <template v-else>facing within <EditWord path="reach.facing_deg" look="reach" :text="`${reach.facing_deg}°`" label="facing, empty for any" kind="number" :value="reach.facing_deg" :step="5" :min="5" :max="180" @change="(v) => (v.trim() ? number('reach.facing_deg', v, true) : demand('reach.facing_deg', 'any', 0))" /></template>
        and <template v-if="reach.sight_m === null || reach.sight_m === undefined"><EditWord path="reach.sight_m" look="reach" text="through anything" label="sight" kind="choice" :choices="[{ value: 'any', label: 'through anything' }, { value: '4', label: 'in clear sight' }]" @change="(v) => demand('reach.sight_m', v, 4)" /></template>
        <template v-else>in clear sight up to <EditWord path="reach.sight_m" look="reach" :text="`${reach.sight_m} m`" label="sight, empty for any" kind="number" :value="reach.sight_m" :min="0.5" @change="(v) => (v.trim() ? number('reach.sight_m', v, true) : demand('reach.sight_m', 'any', 0))" /></template>;
        <template v-if="rest || reach.who.join() !== 'player'"><EditWord path="reach.who" look="reach" :text="whoWords" label="who counts" kind="choice" :choices="WHO" @change="(v) => emit('own', 'reach.who', v.split(','))" /> counts; </template><template v-if="rest">on floors down to <EditWord path="reach.below_m" look="reach" :text="`${reach.below_m} m`" label="floors below" kind="number" :value="reach.below_m" :min="0" @change="(v) => number('reach.below_m', v, true)" /> below and up to <EditWord path="reach.above_m" look="reach" :text="`${reach.above_m} m`" label="floors above" kind="number" :value="reach.above_m" :min="0" @change="(v) => number('reach.above_m', v, true)" /> above its own; its middle lies <EditWord path="reach.offset_x_m" look="reach" :text="`${reach.offset_x_m}`" label="offset across" kind="number" :value="reach.offset_x_m" @change="(v) => number('reach.offset_x_m', v, true)" />, <EditWord path="reach.offset_y_m" look="reach" :text="`${reach.offset_y_m} m`" label="offset ahead" kind="number" :value="reach.offset_y_m" @change="(v) => number('reach.offset_y_m', v, true)" /> beside it; </template><template v-if="rest || reach.priority">priority <EditWord path="reach.priority" look="reach" :text="String(reach.priority)" label="priority" kind="number" :value="reach.priority" :step="1" :min="-99" :max="99" @change="(v) => number('reach.priority', v, true)" /></template><button v-if="!rest" class="usual quiet" @click="rest = true">also usual: {{ usual }}</button>.
      </template>
      <template v-else>: nobody can use it.</template>
    </p>
  </SectionHead>
</template>

<style scoped>
.both { display: flex; gap: 14px; margin: 6px 0; }
.both p { flex: 1; line-height: 1.85; }
.usual { border-bottom: 1px dotted var(--line); }
.panel { display: block; }
.tab { margin-right: 10px; }
.tab.here { color: var(--ink); font-weight: 650; }
</style>
