<script setup lang="ts">
import { nextTick, onMounted, ref, watch } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { useBook } from '@/stores/book'

/** Cue text being typed, with completion: Tab takes, Ctrl+E or Esc ends. Whoever shows it keeps what is left in it. */
const props = defineProps<{ text: string; start: 'cue' | 'needs' | 'steps'; self: string; label: string }>()
const emit = defineEmits<{ done: [text: string]; cancel: [] }>()

const book = useBook()
const draft = ref(props.text)
const options = ref<HTMLElement | null>(null)
const area = ref<HTMLTextAreaElement | null>(null)
const completion = ref<Schemas['CompletionShape']>({ start: 0, options: [] })
const active = ref(0)
let latest = 0
let readFor = ''
let taking: Promise<void> = Promise.resolve()

async function complete(): Promise<void> {
  const mine = ++latest
  const at = area.value?.selectionStart ?? draft.value.length
  const found = answered<Schemas['CompletionShape']>(
    await api.POST('/api/projects/{project}/complete', {
      params: { path: { project: book.project } },
      body: { text: draft.value, at, start: props.start, this: props.self, slot: '' },
    }),
  )
  if (mine !== latest) return
  completion.value = found
  readFor = `${at} ${draft.value}`
  active.value = 0
}
/** Take what is offered for the text as it is now, not for what it was when the last answer came. */
async function takeNow(): Promise<void> {
  const at = area.value?.selectionStart ?? draft.value.length
  if (readFor !== `${at} ${draft.value}`) await complete()
  const option = completion.value.options[active.value]
  if (option) take(option.value)
}
function take(option: string): void {
  const at = area.value?.selectionStart ?? draft.value.length
  const rest = draft.value.slice(at)
  const gap = rest.startsWith(' ') || rest.startsWith('\n') ? '' : ' '
  draft.value = draft.value.slice(0, completion.value.start) + option + gap + rest
  const next = completion.value.start + option.length + gap.length
  void nextTick(() => {
    area.value?.focus()
    area.value?.setSelectionRange(next, next)
    void complete()
  })
}
/** Whether the shown name tells more than the name in cues. */
const told = (o: Schemas['OptionShape']): boolean =>
  o.label !== '' && o.label.toLowerCase().replaceAll(' ', '_') !== o.value
function onKey(event: KeyboardEvent): void {
  if (event.key === 'Tab' && !event.shiftKey && draft.value.trim()) {
    event.preventDefault()
    taking = takeNow()
  } else if (event.key === 'Escape') {
    event.preventDefault()
    emit('cancel')
  } else if (event.key.toLowerCase() === 'e' && event.ctrlKey) {
    event.preventDefault()
    event.stopPropagation()
    void taking.then(() => emit('done', draft.value))
  } else if ((event.key === 'ArrowDown' || event.key === 'ArrowUp') && event.altKey) {
    event.preventDefault()
    const by = event.key === 'ArrowDown' ? 1 : -1
    active.value = (active.value + by + completion.value.options.length) % Math.max(completion.value.options.length, 1)
  }
}
watch(draft, () => void complete())
watch(active, () => void nextTick(() => options.value?.querySelector('.active')?.scrollIntoView({ block: 'nearest' })))
defineExpose({ typed: () => draft.value })
onMounted(() => {
  area.value?.focus()
  void complete()
})
</script>

<template>
  <div class="cue-text">
    <textarea
      ref="area"
      v-model="draft"
      class="mono"
      :rows="Math.max(draft.split('\n').length, 2)"
      :aria-label="label"
      spellcheck="false"
      @keydown="onKey"
      @keyup="(e) => ['ArrowLeft', 'ArrowRight', 'Home', 'End'].includes(e.key) && complete()"
    />
    <p class="could small" aria-live="polite">
      <span ref="options" class="all">
        <button
          v-for="(option, i) in completion.options"
          :key="option.value"
          tabindex="-1"
          :class="{ active: i === active }"
          @pointerdown.prevent="take(option.value)"
        >
          {{ option.value }}<span v-if="told(option)" class="shown">{{ option.label }}</span>
        </button>
      </span>
      <span class="quiet keys"
        ><span class="key">Tab</span> takes it · <span class="key">Ctrl E</span> back to prose</span
      >
    </p>
  </div>
</template>

<style scoped>
.cue-text {
  border: 1.5px solid var(--ink); border-radius: 6px; background: var(--page); padding: 6px 10px; margin: 4px 0;
}
textarea {
  width: 100%; border: 0; outline: none; resize: none; background: none; font-size: 13.5px; line-height: 1.55;
  color: var(--ink);
}
.could { border-top: 1px solid var(--rules); padding-top: 4px; display: flex; flex-wrap: wrap; gap: 2px 10px; }
.all { display: flex; flex-wrap: wrap; gap: 2px 10px; max-height: 96px; overflow-y: auto; }
.shown { margin-left: 5px; font-family: var(--text); font-weight: 400; color: var(--pencil); }
.could button { color: var(--pencil); font-family: var(--mono); font-size: 12px; }
.could button.active { color: var(--ink); font-weight: 700; box-shadow: inset 0 -2px var(--ink); }
.keys { margin-left: auto; }
</style>
