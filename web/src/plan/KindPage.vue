<script setup lang="ts">
import { computed, ref } from 'vue'
import type { RowOf } from '@/api/client'
import CueList from '@/page/CueList.vue'
import InVain from '@/page/InVain.vue'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import NameInCues from '@/page/NameInCues.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import Badge from '@/parts/Badge.vue'
import EditWord from '@/parts/EditWord.vue'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import BodySection from './BodySection.vue'
import { pathWords, type Subject } from './designs'
import PromptSection from './PromptSection.vue'
import StatesSection from './StatesSection.vue'
import type { PageReading } from '@/stores/page'

/** A kind by itself: what every object placed from it has, unless that object has it of its own. */
const props = defineProps<{ kind: RowOf<'kind'>; reading: PageReading | null }>()
const emit = defineEmits<{ remove: [clean: boolean]; place: [kind: string] }>()
const book = useBook()
const { quietly } = useQuietly()
const subject = computed<Subject>(() => ({ kind: props.kind, design: props.kind.values.design }))
const placed = computed(() => book.of('object').filter((o) => o.values.kind === props.kind.key))
const elsewhere = computed(() => (props.reading?.uses ?? []).filter((u) => u.field !== 'kind'))
const cues = ref<InstanceType<typeof CueList> | null>(null)
const mendable = computed(() => (props.reading?.in_vain ?? []).filter((v) => v.instead))
const name = computed(() => props.kind.values.name)

function set(path: string, value: unknown, done = true): void {
  const values = { [path]: value }
  book.showInDesign(props.kind.id, values)
  if (done)
    void quietly(book.setInDesign(props.kind.id, values, `Changed the ${pathWords(path)} of the kind ${name.value}`))
}
function addButton(path: string, buttons: unknown[], text: string): void {
  void quietly(
    book.edit(
      [
        { do: 'set_in_design', id: props.kind.id, values: { [path]: buttons } as never },
        { do: 'add', type: 'cue', owner: props.kind.id, values: { text } },
      ],
      'Added a button',
    ),
  )
}
function state(how: 'rename_state' | 'remove_state', values: Record<string, string>): void {
  void quietly(book.edit([{ do: how, id: props.kind.id, values: values as never }]))
}
/** How many of the placed objects have something of their own, and so do not follow everything here. */
const apart = computed(() => placed.value.filter((o) => Object.keys(o.values.own).length).length)
/** Whom a change here changes. */
const reachesWhom = computed(() => {
  const count = placed.value.length
  if (!count) return 'No object is placed from it.'
  const all = count === 1 ? 'the one object' : `all ${count} objects`
  const own = apart.value === 1 ? 'one of them has' : `${apart.value} of them have`
  return `What is changed here changes ${all} placed from it${apart.value ? `, save what ${own} of their own` : ''}.`
})
</script>

<template>
  <header class="head">
    <Badge :icon="kind.values.design.icon" />
    <div>
      <h1>
        <EditWord :text="name" label="name" kind="text" @change="(v) => quietly(book.set(kind.id, { name: v }))" />
      </h1>
      <p class="quiet small">
        a kind,
        <NameInCues :record="kind" />
      </p>
      <p class="quiet small">
        {{ reachesWhom }}
        <button class="link" @click="emit('place', kind.key)">place one</button>
      </p>
    </div>
  </header>
  <PromptSection :one="subject" :live="undefined" @own="set" @button="addButton">
    <InVain :cues="mendable" @mend="(vain) => cues?.mend(vain)" />
  </PromptSection>
  <BodySection :one="subject" @own="set" />
  <StatesSection
    :one="subject"
    now=""
    @own="set"
    @rename="(from, to, shown) => state('rename_state', { state: from, to, name: shown })"
    @drop="(from) => state('remove_state', { state: from })"
  />
  <CueList
    ref="cues"
    :owner="kind.id"
    :self="kind.key"
    :cues="book.of('cue', kind.id)"
    :reading="reading"
    title="What happens"
    :fresh="'when used\nthen\n  ?'"
  />
  <SectionHead title="Placed" :note="String(placed.length)" remember="kind-placed">
    <p v-if="placed.length" class="measure">
      <template v-for="(o, i) in placed" :key="o.id"
        >{{ i ? ' · ' : ''
        }}<router-link class="link" :to="{ name: 'plan', params: { selected: o.key } }">{{ o.values.name }}</router-link
        ><span v-if="Object.keys(o.values.own).length" class="quiet small">
          ({{ Object.keys(o.values.own).map(pathWords).join(', ') }} of its own)</span
        ></template
      >
    </p>
    <p v-else class="quiet">Nowhere; steps can still put copies of it.</p>
  </SectionHead>
  <SectionHead title="Where else it is used" :note="reading ? String(elsewhere.length) : ''" remember="kind-uses"
    ><UseList v-if="reading" :uses="elsewhere" empty="No cue puts it or names it."
  /></SectionHead>
  <Problems :problems="(reading?.problems ?? []).filter((p) => p.code !== 'cue_hole')" />
  <FindingsSection :record="kind.id" />
  <DeleteLine @remove="(clean) => emit('remove', clean)" />
</template>

<style scoped>
.head {
  display: flex; gap: 14px; align-items: flex-start; position: sticky; top: -20px; background: var(--page);
  padding: 6px 0 4px 14px; margin-left: -14px; z-index: 5;
}
h1 { overflow-wrap: anywhere; }
</style>
