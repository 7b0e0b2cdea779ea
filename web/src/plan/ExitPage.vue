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
const emit = defineEmits<{ set: [values: Record<string, unknown>]; remove: [clean: boolean]; back: [] }>()
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
/** The exits of the level where it leads that lead to its own. */
const backs = computed(() => {
  const from = book.of('level').find((one) => one.id === props.exit.owner)
  const to = book.of('level').find((one) => one.key === v.value.to_level)
  if (!from || !to || from === to) return null
  return { to, exits: book.of('exit', to.id).filter((one) => one.values.to_level === from.key) }
})
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
    <p v-if="backs" class="measure small">
      <template v-if="backs.exits.length">
        Back from {{ backs.to.values.name }} leads
        <template v-for="(one, i) in backs.exits" :key="one.id">
          {{ i ? ', ' : '' }}<router-link class="link" :to="{ params: { selected: one.key } }">{{
            one.values.name
          }}</router-link> </template
        >.
      </template>
      <template v-else>
        Nothing leads back from {{ backs.to.values.name }}.
        <button class="link" @click="emit('back')">+ a way back</button>
      </template>
    </p>
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
