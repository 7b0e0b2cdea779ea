<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, type RowOf, type Schemas } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import { useQuietly } from '@/page/quietly'
import type { Choice } from '@/parts/choices'
import { openWord } from '@/parts/opening'
import Problems from '@/parts/Problems.vue'
import Sentence from '@/parts/Sentence.vue'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import { usePageReading } from '@/stores/page'
import ObjectiveLine from './ObjectiveLine.vue'
import TouchList from './TouchList.vue'
import { counted } from '@/parts/plural'
import { NEW_OBJECTIVE, stageFields, wordOf } from './fields'
import { useReadByName, useTouchLead } from './touching'

const props = defineProps<{ quest: RowOf<'quest'>; stage: RowOf<'stage'> }>()
const emit = defineEmits<{ chosen: [key: string] }>()
const book = useBook()
const live = useLive()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.stage.id)

const stages = computed(() => book.of('stage', props.quest.id))
const number = computed(() => stages.value.findIndex((s) => s.id === props.stage.id) + 1)
const objectives = computed(() => book.of('objective', props.stage.id))
const onward = (): Choice[] => [
  { value: 'ready', label: 'ready to hand in' },
  { value: 'done', label: 'the quest is done' },
  { value: '', label: 'wait for a cue' },
  ...stages.value
    .filter((s) => s.id !== props.stage.id)
    .map((s) => ({ value: s.key, label: `on to “${s.values.name}”` })),
]
const STAGE = stageFields(onward)
const point = computed(() => `${props.quest.key}.${props.stage.key}`)

const touches = useReadByName(
  () => point.value,
  async () => {
    const path = { project: book.project, quest: props.quest.key, stage: props.stage.key }
    const answer = await api.GET('/api/projects/{project}/stages/{quest}/{stage}', { params: { path } })
    return answered<Schemas['StageReading']>(answer)
  },
)

function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.stage.id, values))
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
async function addObjective(): Promise<void> {
  const values = { name: book.freshName('objective', NEW_OBJECTIVE), type: 'by_hand' } as never
  const add = { do: 'add', type: 'objective', owner: props.stage.id, values } as const
  const made = await book.edit([add], 'Added an objective')
  const row = made.rows.find((r) => r.type === 'objective')
  if (row) await openWord(() => wordOf(row.id, 'objective type'))
}
async function remove(clean: boolean): Promise<void> {
  if (await quietly(book.edit([{ do: 'remove', id: props.stage.id, clean }]))) leave(props.quest.key)
}
/** By the router, since this page may be gone by then. */
function leave(selected: string): void {
  void router.replace({ name: 'quests', params: { selected } })
}
const go = useTouchLead((key) => emit('chosen', key))
</script>

<template>
  <p class="small quiet">
    <button class="link" @click="emit('chosen', quest.key)">{{ quest.values.name }}</button>
    · stage {{ number }} of {{ stages.length }} · <span class="mono">{{ stage.key }}</span>
  </p>
  <h1><Sentence of="Stage" :fields="STAGE" :values="stage.values" :parts="['{name}']" @put="put" /></h1>
  <p class="small">
    <button class="link" @click="live.choose(live.asked === point ? '' : point)">
      {{ live.asked === point ? 'end as if' : 'see the level as if it stood here' }}
    </button>
  </p>
  <SectionHead title="Journal" remember="stage-journal">
    <p class="measure">
      <Sentence of="Stage" :fields="STAGE" :values="stage.values" :parts="['{journal}']" @put="put" />
    </p>
  </SectionHead>
  <SectionHead title="Objectives" remember="stage-objectives">
    <template #note><button class="link" @click="quietly(addObjective())">+ objective</button></template>
    <ObjectiveLine v-for="one in objectives" :key="one.id" :objective="one" />
    <p v-if="!objectives.length" class="quiet">None yet: it stays here until a cue moves it on.</p>
    <p class="quiet">
      <Sentence of="Stage" :fields="STAGE" :values="stage.values" :parts="['All met: {then}.']" @put="put" />
    </p>
    <Problems :problems="reading?.problems ?? []" />
  </SectionHead>
  <SectionHead title="On entering" remember="stage-entering">
    <TextProse
      :record="stage.id"
      field="entering"
      start="steps"
      self=""
      :reading="reading?.texts[`${stage.id}.entering`]"
      empty="Nothing."
      label="on entering"
    />
  </SectionHead>
  <SectionHead title="Brings it here" :note="counted(touches?.brings.length ?? 0, 'way')" remember="stage-brings">
    <TouchList :touches="touches?.brings ?? []" empty="Nothing moves the quest here." sources @go="go" />
  </SectionHead>
  <SectionHead title="Becomes possible" :note="String(touches?.becomes.length ?? 0)" remember="stage-becomes">
    <TouchList :touches="touches?.becomes ?? []" empty="Nothing that was not possible before." @go="go" />
  </SectionHead>
  <SectionHead title="Stops being possible" :note="String(touches?.stops.length ?? 0)" remember="stage-stops">
    <TouchList :touches="touches?.stops ?? []" empty="Nothing." @go="go" />
  </SectionHead>
  <FindingsSection :record="stage.id" />
  <DeleteLine says="delete this stage" @remove="remove" />
</template>
