<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import PromptPicture from '@/parts/PromptPicture.vue'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import type { SentencePart } from '@/parts/fields'
import { useBook } from '@/stores/book'
import type { Subject } from './designs'
import { buttonFields, promptFields, reachFields } from './fields'

/** The prompts of an object: each as the player sees it, with its reach in words. */
const props = defineProps<{ one: Subject; live: Schemas['LiveObject'] | undefined }>()
const emit = defineEmits<{
  own: [path: string, value: unknown, done?: boolean]
  button: [path: string, buttons: unknown[], text: string]
}>()
const book = useBook()
const chosen = ref(0)

/** A prompt that was just added. */
const FRESH = {
  wording: 'Use {object}',
  states: [],
  hold_s: 0,
  when_unusable: 'dimmed',
  place: 'object',
  offset_x_m: 0,
  offset_y_m: 0,
  screen_x: 0.5,
  screen_y: 0.86,
  opens_s: null,
  buttons: [],
}
const reach = computed(() => props.one.design.reach)
const prompts = computed(() => props.one.design.prompts)
const prompt = computed(() => prompts.value[Math.min(chosen.value, prompts.value.length - 1)])
const controls = computed(() => book.settings?.values.controls ?? [])
const shown = computed(() => props.live?.prompts.find((p) => p.key === prompt.value?.key))
const cap = computed(() => (controls.value.find((c) => c.key === prompt.value?.control)?.keys[0] ?? '?').toUpperCase())
const around = {
  controls: () => controls.value.map((c) => ({ value: c.key, label: c.name })),
  states: () => [
    { value: '', label: 'in any state' },
    ...props.one.design.states.map((s) => ({ value: s.key, label: s.name })),
  ],
  who: () => [
    { value: 'player', label: 'the player' },
    { value: 'characters', label: 'any character' },
    { value: 'player,characters', label: 'the player and any character' },
    ...book.of('tag').map((t) => ({ value: t.key, label: `whatever is tagged ${t.values.name}` })),
    ...book
      .of('tag')
      .map((t) => ({ value: `player,${t.key}`, label: `the player and whatever is tagged ${t.values.name}` })),
  ],
}
const PROMPT = promptFields(around)
const REACH = reachFields(around)

function put(field: string, value: unknown, done = true): void {
  if (prompt.value) emit('own', `prompts.${prompt.value.key}.${field}`, value, done)
}
function putReach(field: string, value: unknown, done: boolean): void {
  emit('own', `reach.${field}`, value, done)
}
function removeButton(i: number): void {
  put(
    'buttons',
    prompt.value?.buttons.filter((_, n) => n !== i),
  )
}
/** A button and the cue that waits for it, so that it works at once. */
function addButton(): void {
  if (!prompt.value) return
  let n = prompt.value.buttons.length + 1
  while (prompts.value.some((p) => p.buttons.some((b) => b.key === `button_${n}`))) n++
  const buttons = [...prompt.value.buttons, { key: `button_${n}`, wording: `Button ${n}`, when_unusable: 'dimmed' }]
  const text = `when chosen button_${n}\nthen\n  say "Button ${n}."`
  emit('button', `prompts.${prompt.value.key}.buttons`, buttons, text)
}
function setButton(i: number, field: string, value: unknown): void {
  put(
    'buttons',
    prompt.value?.buttons.map((b, n) => (n === i ? { ...b, [field]: value } : b)),
  )
}
const rest = useStorage('reach-rest', false)
/** What is as usual for a reach, in grey. */
const usual = computed(() => {
  const { who, above_m, below_m, priority } = reach.value
  const floors = above_m === 1 && below_m === 1 ? 'its own floor and a metre about' : 'its own floor band'
  return [...(who.join() === 'player' ? ['player only'] : []), floors, ...(priority ? [] : ['no priority'])].join(', ')
})
function add(): void {
  const keys = prompts.value.map((p) => p.key)
  let n = 1
  while (keys.includes(`p${n}`)) n++
  const control = controls.value[0]?.key ?? 'use'
  emit('own', 'prompts', [...prompts.value, { ...FRESH, key: `p${n}`, control }])
  chosen.value = prompts.value.length
}
function drop(): void {
  emit(
    'own',
    'prompts',
    prompts.value.filter((p) => p.key !== prompt.value?.key),
  )
  chosen.value = 0
}
const plainWording = computed(() => {
  const name = (props.one.row ?? props.one.kind)?.values.name ?? ''
  return (prompt.value?.wording ?? '').replaceAll('{object}', name).replaceAll('{control}', cap.value)
})
/** The reason as it is shown, where the prompt is dimmed now. */
const reason = computed(() => {
  const now = shown.value
  return now && !now.usable && prompt.value?.when_unusable === 'dimmed' ? now.reason : ''
})
const aside = computed(() => !!prompt.value && (prompt.value.offset_x_m !== 0 || prompt.value.offset_y_m !== 0))
const promptSentence = computed<SentencePart[]>(() => {
  const one = prompt.value
  if (!one) return []
  return [
    '{hold} {#cap} {control}',
    [one.hold_s > 0, ' for {hold_s}'],
    ', while {states}, shown {place}',
    [one.place === 'screen', ' at {screen_x} across, {screen_y} down'],
    [one.place === 'object' && aside.value, ' beside it by {offset_x_m} east and {offset_y_m} north'],
    [rest.value, ', opening in {opens_s}'],
    '. Not usable yet: {when_unusable}. ',
  ]
})
const reachSentence = computed<SentencePart[]>(() => {
  const { shape, facing_deg, sight_m, who, priority } = reach.value
  if (shape === 'none') return ['Reach is {shape}: nobody can use it.']
  return [
    'Reach is {shape}',
    [shape === 'box', ' of {width_m} by {depth_m}'],
    [shape !== 'box', ' of {radius_m}'],
    [shape === 'wedge', ', opening {arc_deg}'],
    ' that {moves_with_part}, ',
    facing_deg === null ? '{facing}' : 'facing within {facing_deg}',
    ' and ',
    sight_m === null ? '{sight}' : 'in clear sight up to {sight_m}',
    '; ',
    [rest.value || who.join() !== 'player', '{who} counts; '],
    [rest.value, 'on floors down to {below_m} below and up to {above_m} above its own; '],
    [rest.value, 'its middle lies {offset_x_m}, {offset_y_m} beside it; '],
    [rest.value || priority, 'priority {priority}'],
    '{#more}.',
  ]
})
</script>

<template>
  <SectionHead title="Prompt" remember="prompt">
    <template #note>
      <span v-if="prompts.length > 1">
        <button
          v-for="(p, i) in prompts"
          :key="p.key"
          class="tab"
          :class="{ here: p.key === prompt?.key }"
          @click="chosen = i"
        >
          {{ p.states.length ? p.states.join(', ').replaceAll('_', ' ') : p.key }}
        </button>
      </span>
      <button class="link" @click="add">+ prompt</button>
    </template>
    <div v-if="prompt" class="both">
      <PromptPicture
        :path="`prompts.${prompt.key}.wording`"
        :cap="cap"
        :shown="shown?.wording ?? plainWording"
        :wording="prompt.wording"
        :hold="prompt.hold_s > 0"
        :reason="reason"
        :usable="shown?.usable"
        @change="(v) => put('wording', v)"
      />
      <p>
        <Sentence
          of="Prompt"
          :fields="PROMPT"
          :values="prompt"
          :parts="promptSentence"
          :at="`prompts.${prompt.key}`"
          @put="put"
        >
          <template #cap
            ><span class="key">{{ cap }}</span></template
          >
        </Sentence>
        <button v-if="prompt.place === 'object' && !aside" class="link small quiet" @click="put('offset_y_m', 0.5)">
          move it aside
        </button>
        {{ ' ' }}
        <button class="link small quiet" @click="addButton">+ button</button>
        {{ ' ' }}
        <button class="link small quiet" @click="drop">remove</button>
        <span v-for="(b, i) in prompt.buttons" :key="b.key" class="panel">
          <Sentence
            of="Button"
            :fields="buttonFields(i + 1)"
            :values="b"
            :parts="[[i === 0, 'A panel: '], '{wording} {#key}; not usable yet: {when_unusable} {#gone}']"
            @put="(field, value) => setButton(i, field, value)"
          >
            <template #key
              ><span class="mono small quiet">{{ b.key }}</span></template
            >
            <template #gone>
              <button class="link small quiet" :aria-label="`Remove the button ${b.wording}`" @click="removeButton(i)">
                ×
              </button>
            </template>
          </Sentence>
        </span>
      </p>
    </div>
    <slot />
    <p v-if="!prompt" class="quiet">
      It offers the player no control. <button class="link" @click="add">Add a prompt</button>
    </p>
    <p class="measure">
      <Sentence
        of="Reach"
        :fields="REACH"
        :values="reach"
        :parts="reachSentence"
        at="reach"
        look="reach"
        @put="putReach"
      >
        <template #more>
          <button v-if="!rest" class="usual quiet" @click="rest = true">also usual: {{ usual }}</button>
        </template>
      </Sentence>
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
