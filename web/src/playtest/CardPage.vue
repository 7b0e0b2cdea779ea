<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import { assumable, nameOfValue, valuesOf } from '@/parts/assuming'
import type { Choice } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import type { Fields } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import { useBook } from '@/stores/book'
import { useCards } from '@/stores/cards'

/** A start card in words: where it begins, and all that differs there from the beginning. */
const props = defineProps<{ card: RowOf<'card'> }>()
defineEmits<{ remove: [] }>()
const book = useBook()
const cards = useCards()
const { quietly } = useQuietly()
const values = computed(() => props.card.values)
type Held = Schemas['CardValues']['holds'][number]

const DIGITS: Choice[] = [
  { value: '', label: 'on no key' },
  ...Array.from({ length: 9 }, (_, i) => ({ value: String(i + 1), label: `on Alt ${i + 1}` })),
]
const rounded = (value: unknown, to: number): number => Math.round(Number(value) * to) / to
const levels = (): Choice[] => book.of('level').map((l) => ({ value: l.key, label: l.values.name }))
const CARD: Fields = {
  name: { label: 'name' },
  digit: { label: 'key', choices: () => DIGITS, said: (v) => DIGITS.find((d) => d.value === v)?.label ?? '' },
  in_level: { label: 'level', choices: levels, said: (v) => (v ? book.name(String(v)) : 'no level') },
  x_m: { label: 'to the east', step: 0.25, said: (v) => `${rounded(v, 100)} m`, typed: (v) => rounded(v, 100) },
  y_m: { label: 'to the north', step: 0.25, said: (v) => `${rounded(v, 100)} m`, typed: (v) => rounded(v, 100) },
  facing_deg: { label: 'facing', step: 15, said: (v) => `${rounded(v, 1)}°`, typed: (v) => rounded(v, 1) },
}
/** What it holds, in words as the server reads them; what was only just put there reads as it was chosen. */
const holds = computed(() => {
  const read = new Map((cards.byId.get(props.card.id)?.holds ?? []).map((one) => [one.column, one]))
  const shown = values.value.holds.map((held) => {
    const found = read.get(held.column)
    const text = found?.value === held.value ? found.text : held.says
    const told = found ? found.told : held.says !== ''
    return { held, told, text: text || held.says || held.column.replace(/[:_]/g, ' '), fits: found?.fits ?? true }
  })
  return shown.filter((one) => one.told)
})
function set(change: Record<string, unknown>): void {
  void quietly(book.set(props.card.id, change))
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
function others(column: string, value: number): Choice[] {
  return valuesOf(book, column).filter((c) => c.value !== String(value))
}
/** Puts a value in place of what is held of its column, or to the rest. */
function hold(column: string, value: number, says: string): void {
  const one: Held = { column, value, named: nameOfValue(book, column, value), says, seconds: null }
  const at = values.value.holds.findIndex((h) => h.column === column)
  const next = at < 0 ? [...values.value.holds, one] : values.value.holds.map((h, i) => (i === at ? one : h))
  set({ holds: next })
}
function add(pair: string): void {
  const [column = '', value = '1'] = pair.split('=')
  hold(column, Number(value), assumable(book).find((c) => c.value === pair)?.label ?? '')
}
function drop(column: string): void {
  set({ holds: values.value.holds.filter((h) => h.column !== column) })
}
const leftOut = computed(() => cards.byId.get(props.card.id)?.left_out ?? [])
</script>

<template>
  <article class="card" :aria-label="`Start card ${values.name}`">
    <h1><Sentence of="Card" :fields="CARD" :values="values" :parts="['{name}']" @put="put" /></h1>
    <p>
      <Sentence
        of="Card"
        :fields="CARD"
        :values="values"
        :parts="['Begins in {in_level} at {x_m}, {y_m}, facing {facing_deg}, {digit}.']"
        @put="put"
      />
    </p>
    <p v-if="leftOut.length" class="glow">Left out now: {{ leftOut.join('; ') }}.</p>
    <ul aria-label="What it begins with">
      <li v-for="{ held, text, fits } in holds" :key="held.column" :class="{ gone: !fits }">
        <EditWord
          v-if="fits && others(held.column, held.value).length"
          :text="text"
          :label="text"
          kind="choice"
          :choices="() => others(held.column, held.value)"
          @change="(v) => hold(held.column, Number(v), '')"
        />
        <span v-else>{{ text }}</span>
        <button class="link small" :aria-label="`Take out: ${text}`" @click="drop(held.column)">take out</button>
      </li>
      <li v-if="!holds.length" class="dusk">as the level begins</li>
    </ul>
    <p class="foot small">
      <EditWord text="+ also" label="also begin with" kind="choice" :choices="() => assumable(book)" @change="add" />
      <button class="link" @click="$emit('remove')">delete this card</button>
    </p>
  </article>
</template>

<style scoped>
.card { border-left: 3px solid var(--chalk); padding: 2px 0 4px 14px; margin: 8px 0 12px; }
ul { list-style: none; margin: 6px 0; padding: 0; }
li { display: flex; align-items: baseline; gap: 12px; padding: 1px 0; }
li .link { margin-left: auto; color: var(--dusk); }
.gone > span { text-decoration: line-through; color: var(--dusk); }
.foot { display: flex; gap: 16px; align-items: baseline; }
.dusk { color: var(--dusk); } .glow { color: var(--glow); }
.link { border-bottom-color: #5b6670; } .link:hover { background: var(--night); }
</style>
