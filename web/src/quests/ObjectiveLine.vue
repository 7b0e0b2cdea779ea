<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import type { SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import type { Choice } from '@/parts/choices'
import { useBook } from '@/stores/book'
import { objectiveFields } from './fields'

/** One objective as a sentence. */
const props = defineProps<{ objective: RowOf<'objective'> }>()
const book = useBook()
const { quietly } = useQuietly()
const values = computed(() => props.objective.values)
const SOURCES: Record<string, 'item' | 'object' | 'area' | 'fact'> = {
  have: 'item',
  use: 'object',
  talk: 'object',
  go: 'area',
  fact: 'fact',
  state: 'object',
}
const targets = computed<Choice[]>(() => {
  const source = SOURCES[values.value.type]
  return source ? book.of(source).map((r) => ({ value: r.key, label: r.values.name })) : []
})
const markers = (): Choice[] => [
  { value: '', label: 'no marker' },
  ...book.of('object').map((o) => ({ value: o.key, label: `marker on ${o.values.name}` })),
]
const states = computed<Choice[]>(() => {
  const thing = book.find('object', values.value.targets[0] ?? '')
  const kind = thing ? book.find('kind', thing.values.kind) : undefined
  const named = (kind?.values.design.states ?? []).map((s) => ({ value: s.key, label: s.name }))
  return [...named, { value: 'gone', label: 'gone' }]
})
function remove(): void {
  void quietly(book.edit([{ do: 'remove', id: props.objective.id }], 'Deleted an objective'))
}
function set(change: Record<string, unknown>): void {
  void quietly(book.set(props.objective.id, change))
}
const OBJECTIVE = objectiveFields({
  targets: () => targets.value,
  states: () => states.value,
  markers,
  name: (key) => book.name(key),
})
const COUNTED = ['have', 'use']
const sentence = computed<SentencePart[]>(() => {
  const { optional, type, count } = values.value
  return [
    [optional, '{optional}: '],
    '{#name}{#dot}{type}',
    [targets.value.length && (count > 1 || COUNTED.includes(type)), ' {count}'],
    [targets.value.length, ' {targets}'],
    [type === 'state', ' is {state}'],
    '{#dot}{marker}',
  ]
})
/** With another type its targets are others, too. */
function put(field: string, value: unknown, done: boolean): void {
  if (done) set(field === 'type' ? { type: value, targets: [] } : { [field]: value })
}
</script>

<template>
  <p class="objective">
    <span aria-hidden="true">○ </span>
    <Sentence of="Objective" :fields="OBJECTIVE" :values="values" :parts="sentence" @put="put">
      <template #name>
        <b><Sentence of="Objective" :fields="OBJECTIVE" :values="values" :parts="['{name}']" @put="put" /></b>
      </template>
      <template #dot><span class="quiet"> · </span></template>
    </Sentence>
    <span class="small quiet tools">
      <button v-if="!values.optional" class="link" @click="set({ optional: true })">optional</button>
      <button class="link" @click="remove">delete</button>
    </span>
  </p>
</template>

<style scoped>
.tools { margin-left: 10px; display: inline-flex; gap: 8px; }
</style>
