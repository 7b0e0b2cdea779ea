<script setup lang="ts">
import { computed } from 'vue'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import EditWord from './EditWord.vue'
import type { Choice } from './choices'

const live = useLive()
const book = useBook()
const points = computed<Choice[]>(() =>
  book
    .of('quest')
    .flatMap((q) => [
      { value: `${q.key}.offered`, label: `${q.values.name}: offered` },
      ...book
        .of('stage', q.id)
        .map((s) => ({ value: `${q.key}.${s.key}`, label: `${q.values.name}: ${s.values.name.toLowerCase()}` })),
      { value: `${q.key}.done`, label: `${q.values.name}: done` },
    ]),
)
const point = computed(() => points.value.find((p) => p.value === live.asked)?.label ?? live.asked)
const more = computed<Choice[]>(() => [
  ...book.of('item').map((i) => ({ value: `item:${i.key}=1`, label: `has ${i.values.name}` })),
  ...book
    .of('fact')
    .filter((f) => f.values.type === 'yes_no')
    .map((f) => ({ value: `fact:${f.key}=1`, label: f.values.name })),
])
function other(value: number): Choice[] {
  return value
    ? [
        { value: '0', label: 'not so' },
        { value: '1', label: 'so' },
      ]
    : [
        { value: '1', label: 'so' },
        { value: '0', label: 'not so' },
      ]
}
function add(pair: string): void {
  const [column = '', value = '1'] = pair.split('=')
  live.change(column, Number(value))
}
</script>

<template>
  <div class="as-if" role="region" aria-label="As if">
    <b>As if</b>
    <EditWord :text="point" label="point" kind="choice" :choices="points" @change="live.choose" />
    <span v-if="live.waiting" class="quiet" data-unread>working it out …</span>
    <template v-for="one in live.waiting ? [] : (live.reading?.assumed ?? [])" :key="one.column">
      <span class="quiet" aria-hidden="true">·</span>
      <EditWord
        :text="one.text"
        :label="`assumed ${one.text}`"
        kind="choice"
        :choices="other(one.value)"
        @change="(v) => live.change(one.column, Number(v))"
      />
    </template>
    <span class="quiet" aria-hidden="true">·</span>
    <EditWord text="+ also" label="also assume" kind="choice" :choices="more" @change="add" />
    <span class="gap" />
    <button @click="live.end">end it ×</button>
  </div>
</template>

<style scoped>
.as-if {
  display: flex; flex-wrap: wrap; align-items: baseline; gap: 2px 9px; padding: 2px 16px 4px;
  background: var(--shade); border-bottom: 1px solid var(--rules); font-size: 13.5px; flex: none;
}
.gap { flex: 1; }
</style>
