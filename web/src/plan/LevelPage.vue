<script setup lang="ts">
import type { RowOf, Schemas } from '@/api/client'
import CueList from '@/page/CueList.vue'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import NameInCues from '@/page/NameInCues.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import EditWord from '@/parts/EditWord.vue'
import type { SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import type { PageReading } from '@/stores/page'
import EndingSection from './EndingSection.vue'
import { LEVEL } from './fields'

const props = defineProps<{ level: RowOf<'level'>; reading: PageReading | null }>()
defineEmits<{ remove: [clean: boolean]; exit: [] }>()
const book = useBook()
const { quietly } = useQuietly()
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.level.id, values))
}
/** Based on what is kept by then, so that two changes in a row are both there. */
async function putEndings(change: (now: Schemas['Ending'][]) => Schemas['Ending'][]): Promise<void> {
  await book.settled()
  const now = (book.rows.get(props.level.id) as RowOf<'level'> | undefined)?.values.endings ?? []
  set({ endings: change(now as Schemas['Ending'][]) })
}
const START: SentencePart[] = ['The player starts at {start_x_m}, {start_y_m} m, facing {start_facing_deg}. ']
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
function beginHere(): void {
  const name = `Runs begin in ${props.level.values.name}`
  if (book.settings) void quietly(book.set(book.settings.id, { first_level: props.level.key }, name))
}
</script>

<template>
  <p class="small quiet">a level, <NameInCues :record="level" /></p>
  <h1><EditWord :text="level.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="Start" remember="level-start">
    <p class="measure">
      <Sentence of="Level" :fields="LEVEL" :values="level.values" :parts="START" @put="put" />
      <template v-if="book.settings?.values.first_level === level.key">A run begins in this level.</template>
      <button v-else class="link" @click="beginHere">let runs begin here</button>
    </p>
  </SectionHead>
  <EndingSection :level="level" @put="(change) => void putEndings(change)" />
  <SectionHead title="Exits" remember="level-exits">
    <template #note><button class="link" @click="$emit('exit')">+ exit</button></template>
    <p v-for="one in book.of('exit', level.id)" :key="one.id">
      <router-link class="link" :to="{ params: { selected: one.key } }">{{ one.values.name }}</router-link>
      leads to {{ one.values.to_level ? book.name(one.values.to_level) : 'nowhere yet' }}
    </p>
    <p v-if="!book.of('exit', level.id).length" class="quiet">No way leads out of it.</p>
  </SectionHead>
  <CueList
    :owner="level.id"
    self=""
    :cues="book.of('cue', level.id)"
    :reading="reading"
    title="What happens"
    :fresh="'when started\nthen\n  ?'"
  />
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="level-uses">
    <UseList v-if="reading" :uses="reading.uses" empty="No cue, quest or exit names it." />
  </SectionHead>
  <FindingsSection :record="level.id" />
  <DeleteLine @remove="(clean) => $emit('remove', clean)" />
</template>
