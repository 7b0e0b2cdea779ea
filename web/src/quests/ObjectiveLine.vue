<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import type { Choice } from '@/parts/choices'
import { useBook } from '@/stores/book'

/** One objective as a sentence. */
const props = defineProps<{ objective: RowOf<'objective'> }>()
const book = useBook()
const { quietly } = useQuietly()
const values = computed(() => props.objective.values)
const TYPES: Choice[] = [
  { value: 'have', label: 'have' }, { value: 'use', label: 'use' }, { value: 'go', label: 'go to' }, { value: 'talk', label: 'talk to' },
  { value: 'fact', label: 'make true' }, { value: 'state', label: 'bring about' }, { value: 'by_hand', label: 'met by a step' },
]
const SOURCES: Record<string, 'item' | 'object' | 'area' | 'fact'> = { have: 'item', use: 'object', talk: 'object', go: 'area', fact: 'fact', state: 'object' }
const targets = computed<Choice[]>(() => {
  const source = SOURCES[values.value.type]
  return source ? book.of(source).map((r) => ({ value: r.key, label: r.values.name })) : []
})
const markers = computed<Choice[]>(() => [{ value: '', label: 'no marker' }, ...book.of('object').map((o) => ({ value: o.key, label: `marker on ${o.values.name}` }))])
const shownTarget = computed(() => values.value.targets.map((t) => book.name(t)).join(', ') || '…')
const states = computed<Choice[]>(() => {
  const thing = book.find('object', values.value.targets[0] ?? '')
  const kind = thing ? book.find('kind', thing.values.kind) : undefined
  return [...(kind?.values.design.states ?? []).map((s) => ({ value: s.key, label: s.name })), { value: 'gone', label: 'gone' }]
})
function set(change: Record<string, unknown>): void {
  void quietly(book.set(props.objective.id, change))
}
</script>

<template>
  <p class="objective">
    <span aria-hidden="true">○</span>
    <EditWord v-if="values.optional" text="optional" label="optional" kind="choice" :choices="[{ value: '', label: 'required' }, { value: '1', label: 'optional' }]" @change="(v) => set({ optional: v === '1' })" />{{ values.optional ? ': ' : ' ' }}<b><EditWord :text="values.name" label="objective name" kind="text" @change="(v) => set({ name: v })" /></b>
    <span class="quiet"> · </span><EditWord :text="TYPES.find((t) => t.value === values.type)?.label ?? values.type" label="objective type" kind="choice" :choices="TYPES" @change="(v) => set({ type: v, targets: [] })" />
    <template v-if="targets.length">{{ ' ' }}<template v-if="values.count > 1 || values.type === 'have'"><EditWord :text="String(values.count)" label="count" kind="number" :value="values.count" :step="1" :min="1" @change="(v) => set({ count: Math.max(1, Math.round(Number(v)) || 1) })" />{{ ' ' }}</template><EditWord :text="shownTarget" label="target" kind="choice" :choices="targets" @change="(v) => set({ targets: [v] })" /></template>
    <template v-if="values.type === 'state'"> is <EditWord :text="values.state || '…'" label="state" kind="choice" :choices="states" @change="(v) => set({ state: v })" /></template>
    <span class="quiet"> · </span><EditWord :text="values.marker ? `marker on ${book.name(values.marker)}` : 'no marker'" label="marker" kind="choice" :choices="markers" @change="(v) => set({ marker: v })" />
    <span class="small quiet tools"><button v-if="!values.optional" class="link" @click="set({ optional: true })">optional</button> <button class="link" @click="quietly(book.edit([{ do: 'remove', id: objective.id }], 'Deleted an objective'))">delete</button></span>
  </p>
</template>

<style scoped>
.tools { margin-left: 10px; display: inline-flex; gap: 8px; }
</style>
