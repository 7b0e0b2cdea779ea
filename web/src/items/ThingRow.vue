<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import type { Choice } from '@/parts/choices'
import type { Fields, SentencePart, TypeName } from '@/parts/fields'
import Pennant from '@/parts/Pennant.vue'
import Sentence from '@/parts/Sentence.vue'
import { useBook } from '@/stores/book'
import { saidOf, useFindings } from '@/stores/findings'
import BalanceMarks from './BalanceMarks.vue'
import { FACT, ITEM, SOUND, abilityFields } from './fields'
import ItemSign from './ItemSign.vue'
import type { Note, ThingType } from './things'

/** One row of the tables of items and facts; its values are changed where they stand. */
const props = defineProps<{
  row: RowOf<ThingType>
  chosen: boolean
  unused: boolean
  balance: Schemas['BalanceShape'] | undefined
  note: Note
}>()
defineEmits<{ choose: [] }>()
const book = useBook()
const findings = useFindings()
const { quietly } = useQuietly()

const controls = (): Choice[] => (book.settings?.values.controls ?? []).map((c) => ({ value: c.key, label: c.name }))
const ABILITY = abilityFields(
  controls,
  () => [],
  (key) => book.name(key),
)
/** What of it stands in the row, to be changed there; of the rest its name in cues. */
const shown = computed<{ of: TypeName; fields: Fields; parts: SentencePart[] } | null>(() => {
  const { type, values } = props.row
  switch (type) {
    case 'item':
      return { of: 'Item', fields: ITEM, parts: ['up to {limit}, {at_start} at first'] }
    case 'fact':
      return {
        of: 'Fact',
        fields: FACT,
        parts: [values.type === 'yes_no' ? '{type}, {yes} at first' : '{type}, {at_start} at first'],
      }
    case 'sound':
      return { of: 'Sound', fields: SOUND, parts: ['{seconds}'] }
    case 'ability':
      return { of: 'Ability', fields: ABILITY, parts: ['with {control}, up to {range_m} away'] }
    default:
      return null
  }
})
function put(field: string, value: unknown, done: boolean): void {
  if (done) void quietly(book.set(props.row.id, { [field]: value }))
}
</script>

<template>
  <tr :class="{ chosen, unused }" :data-row="row.key">
    <td v-if="row.type === 'item'" class="sign">
      <ItemSign :icon="row.values.icon" :picture="row.values.picture" :size="20" />
    </td>
    <td class="name">
      <span v-if="chosen" :data-thing="row.key">
        <EditWord
          :text="row.values.name"
          label="name in the table"
          kind="text"
          @change="(typed) => put('name', typed, true)"
        />
      </span>
      <button v-else :data-thing="row.key" @click="$emit('choose')">{{ row.values.name }}</button>
      <Pennant
        v-if="findings.marks.has(row.id)"
        v-tooltip="saidOf(findings.marks.get(row.id))"
        class="flag"
        :weight="findings.marks.get(row.id)!.weight"
      />
    </td>
    <td v-if="row.type === 'item'" class="drawn"><BalanceMarks v-if="balance" :balance="balance" /></td>
    <td class="values">
      <Sentence v-if="shown" v-bind="shown" :values="row.values" @put="put" />
      <span v-else class="mono quiet small">{{ row.key }}</span>
    </td>
    <td class="note" :class="{ amber: note.amber }">{{ note.words }}</td>
  </tr>
</template>

<style scoped>
.flag { margin-left: 6px; vertical-align: -3px; }
tr.chosen td { background: var(--page); }
tr.chosen td:first-child { box-shadow: inset 3px 0 var(--ink); }
tr.chosen td.name { font-weight: 650; }
tr.unused td.name { font-style: italic; }
</style>
