<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import NameInCues from '@/page/NameInCues.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import type { Choice } from '@/parts/choices'
import type { SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import { usePageReading } from '@/stores/page'
import { counted } from '@/parts/plural'
import { questFields } from './fields'

const props = defineProps<{ quest: RowOf<'quest'> }>()
const emit = defineEmits<{ chosen: [key: string]; add: [] }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.quest.id)
const stages = computed(() => book.of('stage', props.quest.id))
const offerers = (): Choice[] => [
  { value: '', label: 'nobody' },
  ...book.of('object').map((o) => ({ value: o.key, label: o.values.name })),
]
const QUEST = questFields(offerers, (key) => book.name(key))
const OFFER: SentencePart[] = [
  '{offered_by} offers it. Once offered it {decline} declined; under way it {give_up} given up; failed it {failing}. ',
  'It can be done {times}. Its beads are {bead}.',
]
function objectivesOf(stage: RowOf<'stage'>): string {
  return book
    .of('objective', stage.id)
    .map((o) => o.values.name)
    .join(' · ')
}
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.quest.id, values))
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
/** By the router, since this page may be gone by then. */
function go(selected: string): void {
  void router.replace({ name: 'quests', params: { selected } })
}
async function remove(clean: boolean): Promise<void> {
  if (await quietly(book.edit([{ do: 'remove', id: props.quest.id, clean }]))) go('')
}
</script>

<template>
  <p class="small quiet">a quest, <NameInCues :record="quest" /> · {{ counted(stages.length, 'stage') }}</p>
  <h1><Sentence of="Quest" :fields="QUEST" :values="quest.values" :parts="['{name}']" @put="put" /></h1>
  <SectionHead title="What the player reads" remember="quest-summary">
    <p class="measure">
      <Sentence of="Quest" :fields="QUEST" :values="quest.values" :parts="['{summary}']" @put="put" />
    </p>
  </SectionHead>
  <SectionHead title="Offer and end" remember="quest-offer">
    <p class="measure"><Sentence of="Quest" :fields="QUEST" :values="quest.values" :parts="OFFER" @put="put" /></p>
  </SectionHead>
  <SectionHead title="Needed first" remember="quest-needs">
    <TextProse
      :record="quest.id"
      field="needs"
      start="needs"
      self=""
      :reading="reading?.texts[`${quest.id}.needs`]"
      empty="Nothing: it can be offered from the start."
      label="needed first"
    />
  </SectionHead>
  <SectionHead title="Rewards" remember="quest-rewards">
    <TextProse
      :record="quest.id"
      field="rewards"
      start="steps"
      self=""
      :reading="reading?.texts[`${quest.id}.rewards`]"
      empty="None yet."
      label="rewards"
    />
  </SectionHead>
  <SectionHead title="Stages" remember="quest-stages">
    <template #note><button class="link" @click="emit('add')">+ stage</button></template>
    <ol>
      <li v-for="stage in stages" :key="stage.id">
        <button class="link" @click="emit('chosen', `${quest.key}.${stage.key}`)">{{ stage.values.name }}</button>
        {{ ' ' }}
        <span class="quiet small">{{ objectivesOf(stage) }}</span>
      </li>
    </ol>
  </SectionHead>
  <SectionHead title="Used by" :note="reading ? String(reading.uses.length) : ''" remember="quest-uses">
    <UseList v-if="reading" :uses="reading.uses" empty="Nothing names it yet, so nobody can start it." />
  </SectionHead>
  <Problems :problems="reading?.problems ?? []" />
  <DeleteLine says="delete this quest" @remove="remove" />
</template>

<style scoped>
ol { margin: 0; padding-left: 20px; }
</style>
