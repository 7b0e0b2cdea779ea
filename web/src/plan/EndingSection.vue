<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import type { Choice } from '@/parts/choices'
import type { SentencePart } from '@/parts/fields'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import { useBook } from '@/stores/book'
import { ENDING } from './fields'
import NameList from './NameList.vue'

/** What ends a level by itself: objectives that are all met, quests that are done. */
const props = defineProps<{ level: RowOf<'level'> }>()
type Endings = Schemas['Ending'][]
/** How the endings, as they are once everything is kept, shall change. */
const emit = defineEmits<{ put: [change: (now: Endings) => Endings] }>()
const book = useBook()
const endings = computed(() => props.level.values.endings as Schemas['Ending'][])
const choices = computed<Choice[]>(() => [
  ...book.of('quest').map((q) => ({ value: q.key, label: `${q.values.name} is done` })),
  ...book.of('objective').map((o) => ({ value: o.key, label: `${o.values.name} is met` })),
])
const SENTENCE: SentencePart[] = ['It is {outcome} once {#when}, {after_s}. ']
function change(i: number, values: Partial<Schemas['Ending']>): void {
  emit('put', (now) => now.map((one, n) => (n === i ? { ...one, ...values } : one)))
}
</script>

<template>
  <SectionHead title="When it ends" remember="level-ends">
    <template #note>
      <button class="link" @click="emit('put', (now) => [...now, { outcome: 'won', when: [], after_s: 5 }])">
        + end
      </button></template
    >
    <p v-for="(one, i) in endings" :key="i" class="measure" :data-ending="i">
      <Sentence
        of="Ending"
        :fields="ENDING"
        :values="one"
        :parts="SENTENCE"
        @put="(f, v, done) => done && change(i, { [f]: v })"
      >
        <template #when>
          <NameList
            path="when"
            label="what ends it"
            none="…"
            add="+ and"
            off="Take away"
            :choices="choices"
            :names="one.when"
            @put="(_path, when, done) => done && change(i, { when })"
          />
        </template>
      </Sentence>
      <button
        class="link small"
        @click="emit('put', (now) => now.filter((_, n) => n !== i))"
      >
        delete
      </button>
    </p>
    <p v-if="!endings.length" class="quiet">By itself it never ends; a step <i>end level</i> can end it.</p>
  </SectionHead>
</template>
