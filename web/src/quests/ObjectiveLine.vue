<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import type { SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import type { Choice } from '@/parts/choices'
import NameList from '@/plan/NameList.vue'
import { useBook } from '@/stores/book'
import { openWord } from '@/parts/opening'
import { NEW_OBJECTIVE, objectiveFields, objectiveName, wordOf } from './fields'

/** One objective as a sentence. */
const props = defineProps<{ objective: RowOf<'objective'> }>()
const book = useBook()
const { quietly } = useQuietly()
const values = computed(() => props.objective.values)
type Source = 'item' | 'object' | 'kind' | 'tag' | 'role' | 'area' | 'level' | 'fact'
const SOURCES: Record<string, readonly Source[]> = {
  have: ['item'],
  use: ['object', 'kind', 'tag', 'role'],
  talk: ['object', 'role'],
  go: ['area', 'level', 'object', 'role'],
  fact: ['fact'],
  state: ['object', 'kind', 'tag', 'role'],
}
/** What stands for several says so: every lamp, everything tagged wet. */
const SAID: Partial<Record<Source, (name: string) => string>> = {
  kind: (name) => `every ${name}`,
  tag: (name) => `everything tagged ${name}`,
  role: (name) => `whoever is ${name}`,
}
const targets = computed<Choice[]>(() =>
  (SOURCES[values.value.type] ?? []).flatMap((type) =>
    book.of(type).map((r) => ({ value: r.key, label: SAID[type]?.(r.values.name) ?? r.values.name })),
  ),
)
const markers = (): Choice[] => [
  { value: '', label: 'no marker' },
  ...(['object', 'area', 'role'] as const).flatMap((type) =>
    book.of(type).map((r) => ({ value: r.key, label: `marker on ${r.values.name}` })),
  ),
]
/** The states of what it aims at, by its first target. */
const states = computed<Choice[]>(() => {
  const first = values.value.targets[0] ?? ''
  const kind = book.find('kind', book.find('object', first)?.values.kind ?? first)
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
  states: () => states.value,
  markers,
  name: (key) => book.name(key),
})
const COUNTED = ['have', 'use']
/** Whether it is met by some of several. */
const several = computed(() => {
  const { targets: named } = values.value
  return named.length > 1 || named.some((key) => ['kind', 'tag'].includes(book.byKey.get(key)?.type ?? ''))
})
const sentence = computed<SentencePart[]>(() => {
  const { optional, type, count, time_s, hidden } = values.value
  return [
    [optional, '{optional}: '],
    '{#name}{#dot}{type}',
    [targets.value.length && (count > 1 || COUNTED.includes(type) || several.value), ' {count}'],
    [targets.value.length && several.value, ' of'],
    [targets.value.length, ' {#targets}'],
    [type === 'state', several.value ? ' are {state}' : ' is {state}'],
    '{#dot}{marker}, {time_s}',
    [time_s && optional, ': then it is too late for it'],
    [time_s && !optional, ': then the quest fails'],
    [hidden, ', {hidden}'],
  ]
})
/** With another type its targets are others, too; one without a name of its own is called by what it asks for. */
function put(field: string, value: unknown, done: boolean): void {
  if (!done) return
  if (field === 'type') {
    set({ type: value, targets: [] })
    if (SOURCES[String(value)]) void openWord(() => wordOf(props.objective.id, 'target'))
  } else if (field === 'targets' && values.value.name.startsWith(NEW_OBJECTIVE) && Array.isArray(value)) {
    const first = targets.value.find((t) => t.value === value[0])?.label ?? ''
    set({ targets: value, name: book.freshName('objective', objectiveName(values.value.type, first)) })
  } else set({ [field]: value })
}
</script>

<template>
  <p class="objective" :data-objective="objective.id">
    <span aria-hidden="true">○ </span>
    <Sentence of="Objective" :fields="OBJECTIVE" :values="values" :parts="sentence" @put="put">
      <template #name>
        <b><Sentence of="Objective" :fields="OBJECTIVE" :values="values" :parts="['{name}']" @put="put" /></b>
      </template>
      <template #targets>
        <NameList
          path="targets"
          label="target"
          none="…"
          add="+ another"
          off="Take away"
          :choices="targets"
          :names="values.targets"
          @put="put"
        />
      </template>
      <template #dot><span class="quiet"> · </span></template>
    </Sentence>
    <span class="small quiet tools">
      <button v-if="!values.optional" class="link" @click="set({ optional: true })">optional</button>
      <button v-if="!values.hidden" class="link" @click="set({ hidden: true })">hidden</button>
      <button class="link" @click="remove">delete</button>
    </span>
  </p>
</template>

<style scoped>
.tools { margin-left: 10px; display: inline-flex; gap: 8px; }
</style>
