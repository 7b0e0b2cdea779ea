<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, type RowOf, type Schemas } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import NameInCues from '@/page/NameInCues.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import Sentence from '@/parts/Sentence.vue'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import ProvedLines from '@/proof/ProvedLines.vue'
import { usePageReading } from '@/stores/page'
import { counted } from '@/parts/plural'
import { questFields } from './fields'
import OfferSection from './OfferSection.vue'
import TouchList from './TouchList.vue'
import { useReadByName, useTouchLead } from './touching'

const props = defineProps<{ quest: RowOf<'quest'> }>()
const emit = defineEmits<{ chosen: [key: string]; add: [] }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.quest.id)
const stages = computed(() => book.of('stage', props.quest.id))
const QUEST = questFields(() => [], (key) => book.name(key))
const STATUSES: Record<string, string> = {
  available: 'Can be had',
  offered: 'Offered',
  ready: 'Ready to hand in',
  done: 'Done',
  declined: 'Declined for good',
  failed: 'Failed',
}
const touches = useReadByName(
  () => props.quest.key,
  async () => {
    const path = { project: book.project, quest: props.quest.key }
    const answer = await api.GET('/api/projects/{project}/quests/{quest}', { params: { path } })
    return answered<Schemas['QuestReading']>(answer)
  },
)
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
const lead = useTouchLead((key) => emit('chosen', key))
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
  <OfferSection :quest="quest" :card="touches?.card ?? null" @put="put" />
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
  <SectionHead
    v-for="one in touches?.statuses ?? []"
    :key="one.status"
    :title="STATUSES[one.status] ?? one.status"
    :note="counted(one.brings.length, 'way')"
    :remember="`quest-${one.status}`"
  >
    <h3>Brings it here</h3>
    <TouchList :touches="one.brings" empty="Nothing." sources @go="(place) => lead(place)" />
    <h3>Becomes possible</h3>
    <TouchList :touches="one.becomes" empty="Nothing that was not possible before." @go="(place) => lead(place)" />
    <h3>Stops being possible</h3>
    <TouchList :touches="one.stops" empty="Nothing." @go="(place) => lead(place)" />
  </SectionHead>
  <SectionHead title="Used by" :note="reading ? String(reading.uses.length) : ''" remember="quest-uses">
    <UseList v-if="reading" :uses="reading.uses" empty="Nothing names it yet, so nobody can start it." />
  </SectionHead>
  <Problems :problems="reading?.problems ?? []" />
  <ProvedLines :quest="quest.key" />
  <FindingsSection :record="quest.id" />
  <DeleteLine says="delete this quest" @remove="remove" />
</template>

<style scoped>
ol { margin: 0; padding-left: 20px; }
h3 { font: 600 13px var(--text); color: var(--pencil); margin: 6px 0 0; }
</style>
