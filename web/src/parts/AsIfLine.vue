<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useQuietly } from '@/page/quietly'
import { useBook } from '@/stores/book'
import { useCards } from '@/stores/cards'
import { useLive } from '@/stores/live'
import { assumable, valuesOf } from './assuming'
import EditWord from './EditWord.vue'
import type { Choice } from './choices'
import { counted } from './plural'

const live = useLive()
const book = useBook()
const cards = useCards()
const route = useRoute()
const { quietly } = useQuietly()
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
/** The other values that something assumed can have; the next one after its own stands first. */
function others(column: string, value: number): Choice[] {
  const all = valuesOf(book, column)
  const at = all.findIndex((c) => c.value === String(value))
  return [...all.slice(at + 1), ...all.slice(0, at)]
}
/** The name of the start card that was just kept for this point. */
const kept = ref('')
watch([() => live.asked, () => live.changes], () => (kept.value = ''))
function keep(): void {
  const [quest = '', stage = ''] = live.asked.split('.')
  const at = String(route.params.selected ?? '')
  const made = cards.keepPoint({ quest, stage, changes: live.changes, at }, point.value)
  void quietly(made.then((card) => (kept.value = card?.values.name ?? '')))
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
    <span v-else-if="live.reading?.by_way != null" class="quiet" data-by-way
      >by a way that was walked, {{ counted(live.reading.by_way, 'action') }}</span
    >
    <template v-for="one in live.waiting ? [] : (live.reading?.assumed ?? [])" :key="one.column">
      <span class="quiet" aria-hidden="true">·</span>
      <EditWord
        :text="one.text"
        :label="`assumed ${one.text}`"
        kind="choice"
        :choices="others(one.column, one.value)"
        @change="(v) => live.change(one.column, Number(v))"
      />
    </template>
    <span class="quiet" aria-hidden="true">·</span>
    <EditWord text="+ also" label="also assume" kind="choice" :choices="() => assumable(book)" @change="add" />
    <span class="gap" />
    <span v-if="kept" class="quiet" role="status">kept as “{{ kept }}”</span>
    <button v-else @click="keep">keep as a start card</button>
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
