<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Schemas } from '@/api/client'
import EditWord from '@/parts/EditWord.vue'
import type { Fields } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'

type Control = Schemas['Control']

/** One control with its keys, mouse and pad buttons; a key is bound by pressing it. */
const props = defineProps<{ control: Control; others: Control[] }>()
const emit = defineEmits<{ change: [values: Partial<Control>]; remove: [] }>()
const waiting = ref(false)
const WALKS = ['w', 'a', 's', 'd', 'arrowup', 'arrowdown', 'arrowleft', 'arrowright']
const MOUSE = ['left', 'middle', 'right'] as const
const taken = computed(() => props.others.filter((o) => o.key !== props.control.key))
const clash = computed(() => {
  const other = taken.value.find((o) => o.keys.some((k) => props.control.keys.includes(k)))
  if (other) return `${other.name} has the same key`
  return props.control.keys.some((k) => WALKS.includes(k)) ? 'that key walks' : ''
})
const CONTROL: Fields = {
  mouse: {
    label: 'mouse',
    choices: () => [
      { value: '', label: 'no mouse button' },
      ...MOUSE.map((m) => ({ value: m, label: `${m} mouse button` })),
    ],
    said: (v) => ((v as string[]).length ? `${(v as string[]).join(', ')} mouse button` : 'no mouse button'),
    kept: (typed) => (typed ? [typed] : []),
  },
  pad: {
    label: 'pad button, empty for none',
    said: (v) => ((v as number[]).length ? `pad button ${(v as number[]).join(', ')}` : 'no pad button'),
    typed: (v) => (v as number[])[0] ?? '',
    kept: (typed) => padOf(typed.trim()),
  },
}
/** The buttons of a pad are counted from 0 to 31. */
function padOf(typed: string): number[] | undefined {
  if (!typed) return []
  const button = Math.round(Number(typed))
  return button >= 0 && button <= 31 ? [button] : undefined
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) emit('change', { [field]: value })
}
function press(event: KeyboardEvent): void {
  event.preventDefault()
  event.stopPropagation()
  waiting.value = false
  if (event.key === 'Escape') return
  const key = event.key.toLowerCase()
  if (!props.control.keys.includes(key)) emit('change', { keys: [...props.control.keys, key] })
}
function shown(key: string): string {
  return key === ' ' ? 'Space' : key.length === 1 ? key.toUpperCase() : key
}
</script>

<template>
  <p class="control">
    <EditWord :text="control.name" label="control name" kind="text" @change="(name) => emit('change', { name })" />
    <span class="mono small quiet">{{ control.key }}</span>
    <button
      v-for="key in control.keys"
      :key="key"
      v-tooltip="`Unbind ${shown(key)}`"
      class="key"
      :aria-label="`Unbind ${shown(key)}`"
      @click="emit('change', { keys: control.keys.filter((k) => k !== key) })"
    >
      {{ shown(key) }}
    </button>
    <button
      class="link small"
      :data-bind="control.key"
      @click="waiting = true"
      @keydown="(e) => waiting && press(e)"
      @blur="waiting = false"
    >
      {{ waiting ? 'press a key …' : '+ key' }}
    </button>
    <Sentence of="Control" :fields="CONTROL" :values="control" :parts="['{mouse} {pad}']" @put="put" />
    <button v-if="taken.length" class="link small quiet" @click="emit('remove')">remove</button>
    <span v-if="clash" class="trouble small">⚑ {{ clash }}</span>
  </p>
</template>

<style scoped>
.control {
  display: flex; flex-wrap: wrap; gap: 2px 16px; align-items: baseline; border-bottom: 1px dotted var(--rules);
  padding: 2px 0;
}
.key { margin-right: 4px; }
</style>
