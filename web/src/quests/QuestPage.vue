<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import { asChoices } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import { usePageReading } from '@/stores/page'
import { counted } from '@/parts/plural'

const props = defineProps<{ quest: RowOf<'quest'> }>()
const emit = defineEmits<{ chosen: [key: string]; add: [] }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.quest.id)
const stages = computed(() => book.of('stage', props.quest.id))
const offerers = computed(() => [{ value: '', label: 'nobody' }, ...book.of('object').map((o) => ({ value: o.key, label: o.values.name }))])
const ENDS = [{ value: 'no', label: 'cannot be' }, { value: 'again', label: 'can be, and offered again' }, { value: 'for_good', label: 'can be, for good' }]

function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.quest.id, values))
}
function said(value: string): string {
  return ENDS.find((e) => e.value === value)?.label ?? value
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
  <p class="small quiet">a quest, <EditWord class="mono" :text="quest.key" label="name in cues" kind="text" @change="(key) => quietly(book.edit([{ do: 'set', id: quest.id, key }]))" /> · {{ counted(stages.length, 'stage') }}</p>
  <h1><EditWord :text="quest.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="What the player reads" remember="quest-summary">
    <p class="measure"><EditWord :text="quest.values.summary || 'nothing written yet'" label="summary" kind="long" :value="quest.values.summary" @change="(v) => set({ summary: v })" /></p>
  </SectionHead>
  <SectionHead title="Offer and end" remember="quest-offer">
    <p class="measure">
      <EditWord :text="quest.values.offered_by ? book.name(quest.values.offered_by) : 'Nobody'" label="offered by" kind="choice" :choices="offerers" @change="(v) => set({ offered_by: v })" /> offers it. Once offered it <EditWord :text="said(quest.values.decline)" label="declined" kind="choice" :choices="ENDS" @change="(v) => set({ decline: v })" /> declined; under way it <EditWord :text="said(quest.values.give_up)" label="given up" kind="choice" :choices="ENDS" @change="(v) => set({ give_up: v })" /> given up. When its last stage is met it <EditWord :text="quest.values.handed_in ? 'is ready to be handed in' : 'waits for a cue to finish it'" label="handed in" kind="choice" :choices="[{ value: '1', label: 'is ready to be handed in' }, { value: '', label: 'waits for a cue to finish it' }]" @change="(v) => set({ handed_in: v === '1' })" />. Its beads are <EditWord :text="`${quest.values.bead}s`" label="bead" kind="choice" :choices="asChoices(['circle', 'diamond', 'square', 'triangle', 'hexagon'])" @change="(v) => set({ bead: v })" />.
    </p>
  </SectionHead>
  <SectionHead title="Needed first" remember="quest-needs">
    <TextProse :record="quest.id" field="needs" start="needs" self="" :reading="reading?.texts[`${quest.id}.needs`]" empty="Nothing: it can be offered from the start." label="needed first" />
  </SectionHead>
  <SectionHead title="Rewards" remember="quest-rewards">
    <TextProse :record="quest.id" field="rewards" start="steps" self="" :reading="reading?.texts[`${quest.id}.rewards`]" empty="None yet." label="rewards" />
  </SectionHead>
  <SectionHead title="Stages" remember="quest-stages">
    <template #note><button class="link" @click="emit('add')">+ stage</button></template>
    <ol><li v-for="stage in stages" :key="stage.id"><button class="link" @click="emit('chosen', `${quest.key}.${stage.key}`)">{{ stage.values.name }}</button> <span class="quiet small">{{ book.of('objective', stage.id).map((o) => o.values.name).join(' · ') }}</span></li></ol>
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
