<script setup lang="ts">
import { computed, nextTick, onUnmounted, ref, useId, watch } from 'vue'
import { useAmiss } from './amiss'
import { fitting, toldApart, typedOut, type Choice } from './choices'
import { follow, swallowClick } from './dragging'
import ForWhom from './ForWhom.vue'
import { useOwnValues } from './own'
import { afterThePress } from './pressing'
import { useSeen } from './seen'

/** One word of a sentence that can be changed where it stands. */
const props = defineProps<{
  text: string
  label: string
  kind: 'text' | 'number' | 'choice' | 'long'
  value?: string | number
  look?: '' | 'need' | 'step' | 'reach'
  choices?: Choice[] | (() => Choice[] | Promise<Choice[]>)
  min?: number
  max?: number
  step?: number
  path?: string
  /** What can be typed besides the choices. */
  free?: 'number' | 'words'
  /** What a finding says of it. */
  amiss?: string
}>()
const emit = defineEmits<{
  change: [value: string]
  live: [value: string]
  entered: []
  make: [sort: string, name: string]
}>()

const open = ref(false)
const draft = ref('')
const found = ref<Choice[]>([])
const active = ref(0)
let was = ''
let since = 0
const seen = useSeen()
const field = ref<HTMLInputElement | HTMLTextAreaElement | null>(null)
const word = ref<HTMLElement | null>(null)
const list = useId()
const whole = ref<HTMLElement | null>(null)
const owns = useOwnValues()
const own = computed(() => (props.path && owns ? owns.value.covering(props.path) : ''))
const findingsHere = useAmiss()
const troubled = computed(() => props.amiss || (props.path && findingsHere ? findingsHere.value(props.path) : ''))
const ofKind = computed(() => (own.value && owns ? owns.value.ofKind(own.value) : ''))
/** The sort of what is being named to be made, empty while one is chosen. */
const naming = ref('')
const fits = computed(() => {
  if (naming.value) return []
  const fit = fitting(found.value, draft.value)
  return fit.some((c) => c.value === draft.value.trim()) ? fit : [...typedOut(draft.value, props.free), ...fit]
})
/** So many are written out at first; the rest follow on asking. */
const AT_FIRST = 60
const all = ref(false)
const shown = computed(() => (all.value ? fits.value : fits.value.slice(0, AT_FIRST)))
const rest = computed(() => fits.value.length - shown.value.length)
const width = computed(() => `${Math.max(String(draft.value).length + 2, 4)}ch`)

/** While a choice is open, something seen elsewhere can be pointed at instead of typed. */
function point(event: PointerEvent): void {
  const target = (event.target as Element).closest<HTMLElement | SVGElement>(
    '[data-object], [data-bead], [data-line], [data-thing], [data-quest]',
  )
  const { object, bead, line, thing, quest } = target?.dataset ?? {}
  const choice = found.value.find((c) => c.value === (object ?? bead ?? line ?? thing ?? quest))
  if (!choice) return
  event.preventDefault()
  event.stopPropagation()
  window.addEventListener('pointerup', swallowClick, { once: true })
  pick(choice)
}
watch(open, (now) => {
  if (now && props.kind === 'choice') window.addEventListener('pointerdown', point, true)
  else window.removeEventListener('pointerdown', point, true)
})
onUnmounted(() => window.removeEventListener('pointerdown', point, true))

async function begin(): Promise<void> {
  was = String(props.value ?? props.text)
  since = seen.now()
  draft.value = props.kind === 'choice' ? '' : was
  active.value = 0
  all.value = false
  naming.value = ''
  found.value = []
  open.value = true
  const offered = typeof props.choices === 'function' ? await props.choices() : (props.choices ?? [])
  found.value = toldApart(offered)
  await nextTick()
  field.value?.focus()
  field.value?.select()
}
function keep(value = draft.value): void {
  if (!open.value) return
  open.value = false
  if (value !== was) seen.as(since, () => emit('change', value))
}
function pick(choice: Choice | undefined): void {
  if (choice?.makes) return make(choice.makes)
  open.value = false
  if (choice) emit('change', choice.value)
  void nextTick(() => word.value?.focus())
}
/** Makes what was named; what has no name yet is asked for one. */
function make(sort: string): void {
  const name = draft.value.trim()
  if (!name) {
    naming.value = sort
    void nextTick(() => field.value?.focus())
    return
  }
  open.value = false
  emit('make', sort, name)
  void nextTick(() => word.value?.focus())
}
function restore(): void {
  open.value = false
  emit('live', was)
  void nextTick(() => word.value?.focus())
}
function leave(event?: FocusEvent): void {
  if (event?.relatedTarget instanceof Node && whole.value?.contains(event.relatedTarget)) return
  if (props.kind === 'choice') afterThePress(() => (open.value = false))
  else keep()
}
/** Does away with the own value, or hands it to the kind; what was being typed is let go. */
function settle(how: 'back' | 'push'): void {
  open.value = false
  owns?.value[how](own.value)
  void nextTick(() => word.value?.focus())
}
function nudge(sign: number): void {
  if (isNaN(Number(draft.value))) return
  const by = (props.step ?? 0.1) * sign
  const next = Math.min(Math.max(Number(draft.value) + by, props.min ?? -Infinity), props.max ?? Infinity)
  draft.value = String(Math.round(next * 1000) / 1000)
  emit('live', draft.value)
}
function onKey(event: KeyboardEvent): void {
  if (event.key === 'Escape') return stop(event, restore)
  if (event.key === 'Enter' && event.ctrlKey) return leave()
  if (event.key === 'Enter' && !(props.kind === 'long' && event.shiftKey)) {
    return stop(event, () => {
      if (naming.value) make(naming.value)
      else if (props.kind === 'choice') pick(shown.value[active.value])
      else {
        keep()
        emit('entered')
        void nextTick(() => word.value?.focus())
      }
    })
  }
  const sign = event.key === 'ArrowUp' ? 1 : event.key === 'ArrowDown' ? -1 : 0
  if (sign && props.kind === 'number') stop(event, () => nudge(sign))
  if (sign && props.kind === 'choice') stop(event, () => walk(-sign))
  event.stopPropagation()
}
/** Another choice by key; beyond the last one shown come the rest. */
function walk(by: number): void {
  if (active.value + by >= shown.value.length) all.value = true
  active.value = Math.min(Math.max(active.value + by, 0), shown.value.length - 1)
  void nextTick(() => document.getElementById(`${list}-${active.value}`)?.scrollIntoView({ block: 'nearest' }))
}
function stop(event: KeyboardEvent, then: () => void): void {
  event.preventDefault()
  event.stopPropagation()
  then()
}
/** Dragging a number sideways changes it; the plan follows live. */
function dragStart(event: PointerEvent): void {
  if (props.kind !== 'number' || open.value || isNaN(Number(props.value))) return
  const from = event.clientX
  const begun = Number(props.value)
  let moved = false
  const move = (e: PointerEvent): void => {
    const steps = Math.round((e.clientX - from) / 6)
    if (!moved && !steps) return
    moved = true
    const next = Math.min(Math.max(begun + steps * (props.step ?? 0.1), props.min ?? -Infinity), props.max ?? Infinity)
    draft.value = String(Math.round(next * 1000) / 1000)
    emit('live', draft.value)
  }
  follow({
    move,
    end: () => moved && seen.as(seen.now(), () => emit('change', draft.value)),
    cancel: () => moved && emit('live', String(props.value)),
  })
}
defineExpose({ begin })
</script>

<template>
  <span ref="whole" class="edit-word" :class="{ open }">
    <button
      v-if="own && !open"
      v-tooltip="`${label}: of its own${ofKind ? `; the kind has ${ofKind}` : ''}`"
      class="own-mark"
      tabindex="-1"
      :aria-label="`${label} is of its own`"
      @click="begin"
    />
    <span
      v-if="!open || kind === 'choice'"
      ref="word"
      v-tooltip="{ text: troubled, disabled: !troubled }"
      role="button"
      tabindex="0"
      class="word"
      :class="[look, { number: kind === 'number', amiss: troubled }]"
      :aria-description="troubled || undefined"
      :aria-label="`${label}: ${text}`"
      :data-word="label"
      @click="begin"
      @keydown.enter.exact.prevent.stop="begin"
      @keydown.space.exact.prevent.stop="begin"
      @pointerdown="dragStart"
      >{{ text }}</span
    >
    <textarea
      v-if="open && kind === 'long'"
      ref="field"
      v-model="draft"
      rows="3"
      :aria-label="label"
      @keydown="onKey"
      @blur="leave"
      @input="emit('live', draft)"
    />
    <input
      v-else-if="open && kind !== 'choice'"
      ref="field"
      v-model="draft"
      :style="{ width }"
      :aria-label="label"
      :inputmode="kind === 'number' ? 'decimal' : 'text'"
      @keydown="onKey"
      @blur="leave"
      @input="emit('live', draft)"
    />
    <span v-else-if="open" class="choices">
      <span v-if="$slots.more" class="more" @pointerdown.prevent
        ><slot name="more" :close="() => (open = false)"
      /></span>
      <input
        ref="field"
        v-model="draft"
        class="seek"
        role="combobox"
        :aria-label="label"
        aria-expanded="true"
        :aria-controls="list"
        :aria-activedescendant="shown.length ? `${list}-${active}` : undefined"
        :placeholder="naming ? `name of the new ${naming}` : free === 'number' ? 'a number' : 'type, or point at it'"
        @keydown="onKey"
        @blur="leave"
        @input="active = 0"
      />
      <span :id="list" role="listbox" class="options" :aria-label="label">
        <button
          v-for="(choice, i) in shown"
          :id="`${list}-${i}`"
          :key="choice.value + (choice.makes ?? '')"
          role="option"
          tabindex="-1"
          :aria-selected="i === active"
          :class="{ active: i === active }"
          @pointerdown.prevent="pick(choice)"
        >
          {{ choice.label }}
        </button>
        <button v-if="rest" class="link" tabindex="-1" @pointerdown.prevent="all = true">and {{ rest }} more</button>
        <span v-if="naming" class="quiet">Enter makes it</span>
        <span v-else-if="!shown.length && !(free && !draft)" class="quiet">nothing fits</span>
      </span>
    </span>
    <span v-if="open && kind === 'number' && found.length" class="own-line"
      >or
      <button
        v-for="choice in found"
        :key="choice.value"
        class="link"
        tabindex="-1"
        @pointerdown.prevent="pick(choice)"
      >
        {{ choice.label }}
      </button></span
    >
    <span v-if="open && path && !own && owns?.alike" class="own-line" @focusout="leave"><ForWhom /></span>
    <span v-if="own && open && ofKind" class="own-line" @focusout="leave"
      >its own; the kind has {{ ofKind }}
      <button class="link" @pointerdown.prevent @click="settle('back')">back to the kind’s</button>
      <button class="link" @pointerdown.prevent @click="settle('push')">make it the kind’s</button></span
    >
  </span>
</template>

<style scoped>
.own-mark {
  position: absolute; left: -12px; width: 4px; height: 1.25em; margin-top: 0.3em; border-radius: 2px;
  background: var(--ink);
}
.own-mark::after { content: ''; position: absolute; inset: -2px -6px; }
.own-line {
  display: block; font-size: 13px; color: var(--pencil); border-left: 3px solid var(--ink); padding-left: 8px;
  margin: 2px 0 4px;
}
.own-line .link { margin-left: 8px; }
.number { cursor: ew-resize; }
input, textarea {
  font: inherit; border: 0; border-bottom: 2px solid var(--ink); background: var(--page); outline: none;
  padding: 0; color: var(--ink);
}
textarea {
  width: 100%; resize: vertical; border: 1.5px solid var(--ink); border-radius: 4px; padding: 4px 6px;
  display: block;
}
.choices {
  display: block; margin: 2px 0 4px; padding: 4px 8px; border-left: 3px solid var(--ink);
  background: var(--page); line-height: 1.6;
}
.seek { width: 16ch; margin-right: 8px; }
.options { display: block; max-height: 190px; overflow-y: auto; }
.more { display: block; font-size: 13px; }
.options button { margin-right: 10px; padding: 0 2px; white-space: nowrap; color: var(--pencil); }
.options button.active { color: var(--ink); font-weight: 650; box-shadow: inset 0 -2px var(--ink); }
.options button:hover { background: var(--shade); }
</style>
