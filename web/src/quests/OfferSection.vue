<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { Problem, RowOf, Schemas } from '@/api/client'
import type { Choice } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import type { SentencePart } from '@/parts/fields'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import OfferCard from '@/playtest/OfferCard.vue'
import { problemsOf, useBook } from '@/stores/book'
import { questFields } from './fields'

/** Who offers a quest and takes it back, how it ends, and the card as the player sees it. */
const props = defineProps<{ quest: RowOf<'quest'>; card: Schemas['OfferShown'] | null }>()
const emit = defineEmits<{ put: [field: string, value: unknown, done: boolean] }>()
const book = useBook()
const to = ref('')
const problems = ref<Problem[]>([])
watch(
  () => props.quest.id,
  () => {
    to.value = ''
    problems.value = []
  },
)
const SAID: Partial<Record<'object' | 'item' | 'area', (name: string) => string>> = {
  item: (name) => `${name}, once it is had`,
  area: (name) => `${name}, on entering it`,
}
const givers = computed<Choice[]>(() =>
  (['object', 'item', 'area'] as const).flatMap((type) =>
    book.of(type).map((r) => ({ value: r.key, label: SAID[type]?.(r.values.name) ?? r.values.name })),
  ),
)
const takers = computed<Choice[]>(() => [
  { value: '', label: 'whoever offers it' },
  ...book.of('object').map((o) => ({ value: o.key, label: o.values.name })),
])
const nobody = computed(() => ['', '?'].includes(props.quest.values.offered_by))
/** Sets up all that is needed; where something offers it already by hand, only who it is is noted. */
async function offer(by: string): Promise<void> {
  problems.value = []
  try {
    await book.offer(props.quest.id, by, to.value)
  } catch (error) {
    problems.value = problemsOf(error)
    if (problems.value.some((p) => p.code === 'offered_already')) emit('put', 'offered_by', by, true)
  }
}
const QUEST = questFields(
  () => [{ value: '', label: 'nobody' }, ...givers.value],
  (key) => book.name(key),
)
const OFFERED: SentencePart[] = ['{offered_by} offers it. ']
const ENDS: SentencePart[] = [
  'Once offered it {decline} declined; under way it {give_up} given up; failed it {failing}. ',
  'It can be done {times}. Its beads are {bead}.',
]
</script>

<template>
  <SectionHead title="Offer and end" remember="quest-offer">
    <p class="measure">
      <template v-if="nobody"
        >Nobody offers it. Let
        <EditWord text="…" label="who offers it" kind="choice" :choices="givers" @change="(v) => v && offer(v)" />
        offer it, to be handed in to
        <EditWord
          :text="to ? book.name(to) : 'whoever offers it'"
          label="handed in to"
          kind="choice"
          :choices="takers"
          @change="(v) => (to = v)"
        />:
        <span class="quiet">talk, buttons and cues are written for it, and can be changed afterwards. </span></template
      >
      <Sentence
        v-else
        of="Quest"
        :fields="QUEST"
        :values="quest.values"
        :parts="OFFERED"
        @put="(f, v, done) => emit('put', f, v, done)"
      />
      <Sentence
        of="Quest"
        :fields="QUEST"
        :values="quest.values"
        :parts="ENDS"
        @put="(f, v, done) => emit('put', f, v, done)"
      />
    </p>
    <Problems :problems="problems" />
    <div v-if="card" class="night-card"><OfferCard :card="card" still /></div>
  </SectionHead>
</template>

<style scoped>
.night-card { margin: 10px 0 4px; }
</style>
