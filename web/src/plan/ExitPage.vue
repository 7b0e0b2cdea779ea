<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import NameInCues from '@/page/NameInCues.vue'
import UseList from '@/page/UseList.vue'
import type { Choice } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import type { SentencePart } from '@/parts/fields'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import { useBook } from '@/stores/book'
import type { PageReading } from '@/stores/page'
import { exitFields } from './fields'

const props = defineProps<{ exit: RowOf<'exit'>; reading: PageReading | null }>()
const emit = defineEmits<{ set: [values: Record<string, unknown>]; remove: [clean: boolean] }>()
const book = useBook()
const levels = (): Choice[] => [
  ...book.of('level').map((l) => ({ value: l.key, label: l.values.name })),
  { value: '', label: 'nowhere' },
]
const EXIT = exitFields(levels, (key) => book.name(key))
const v = computed(() => props.exit.values)
const leads = computed<SentencePart[]>(() => [
  'Whoever walks onto it comes to {to_level}',
  [v.value.to_level, ' at {to_x_m}, {to_y_m} m, facing {to_facing_deg}'],
  '. At the start it is {open_at_start}; cues can open and close it.',
])
const PATCH: SentencePart[] = ['{width_m} × {depth_m}, turned {turn_deg}, at {x_m}, {y_m} m.']
function put(field: string, value: unknown, done: boolean): void {
  if (done) emit('set', { [field]: value })
}
</script>

<template>
  <p class="small quiet">an exit, <NameInCues :record="exit" /></p>
  <h1><EditWord :text="v.name" label="name" kind="text" @change="(name) => emit('set', { name })" /></h1>
  <SectionHead title="Where it leads" remember="exit">
    <p class="measure"><Sentence of="Exit" :fields="EXIT" :values="v" :parts="leads" @put="put" /></p>
  </SectionHead>
  <SectionHead title="Its patch of floor" remember="exit-patch">
    <p class="measure"><Sentence of="Exit" :fields="EXIT" :values="v" :parts="PATCH" @put="put" /></p>
  </SectionHead>
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="exit-uses">
    <UseList v-if="reading" :uses="reading.uses" empty="No cue opens or closes it." />
  </SectionHead>
  <FindingsSection :record="exit.id" />
  <DeleteLine @remove="(clean) => emit('remove', clean)" />
</template>
