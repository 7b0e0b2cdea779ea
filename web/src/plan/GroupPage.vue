<script setup lang="ts">
import { computed } from 'vue'
import DeleteLine from '@/page/DeleteLine.vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { together, type SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import { useBook } from '@/stores/book'
import type { Placed } from './designs'
import { BODY, DESIGN, MOTION, PLACED, reachFields } from './fields'

/** Several objects together: sentences they share; words in which they differ read *various*; one edit changes all. */
const props = defineProps<{ objects: Placed[] }>()
const emit = defineEmits<{
  own: [path: string, value: unknown]
  row: [values: Record<string, unknown>]
  duplicate: []
  remove: [clean: boolean]
}>()
const book = useBook()

const kinds = computed(() => [...new Set(props.objects.map((o) => o.kind?.values.name ?? 'no kind'))])
const designs = computed(() => props.objects.map((o) => o.design))
const rows = computed(() => together(props.objects.map((o) => o.row.values)))
const design = computed(() => together(designs.value))
const reach = computed(() => together(designs.value.map((d) => d.reach)))
const body = computed(() => together(designs.value.map((d) => d.body)))
const motion = computed(() => together(designs.value.map((d) => d.motion)))

const reachSentence = computed<SentencePart[]>(() => {
  const boxes = designs.value.filter((d) => d.reach.shape === 'box').length
  const none = designs.value.filter((d) => d.reach.shape === 'none').length
  const round = designs.value.length - boxes - none
  return [
    'Their reach is {shape}',
    [round, ' of {radius_m}'],
    [round && boxes, ' or'],
    [boxes, ' of {width_m} × {depth_m}'],
    ', with priority {priority}. ',
  ]
})
const PLACE: SentencePart[] = ['Their kind is {#kind}; each is turned {turn_deg} and at the start {there_at_start}. ']
const BODIES: SentencePart[] = ['Their bodies are {width_m} × {depth_m} m, {height_m} high. ']
const MOTIONS: SentencePart[] = ['Their motions take {seconds}; each {stay_clear}. ']
const USE: SentencePart[] = ['Each can be used {uses}, cools down for {cool_down_s}; its memory is {fresh}.']

const REACH = reachFields({ who: () => [] })
const own = (path: string, value: unknown, done: boolean): void => {
  if (done) emit('own', path, value)
}
</script>

<template>
  <p class="small quiet">{{ kinds.length === 1 ? `all of them: ${kinds[0]}` : kinds.join(', ') }}</p>
  <h1>{{ objects.length }} objects</h1>
  <p class="quiet">{{ objects.map((o) => o.row.values.name).join(' · ') }}</p>
  <SectionHead title="Together" remember="group">
    <p class="measure sentences">
      <Sentence
        of="Object"
        :fields="PLACED"
        :values="rows"
        :parts="PLACE"
        @put="(f, v, done) => done && emit('row', { [f]: v })"
      >
        <template #kind>
          <EditWord
            :text="kinds.length === 1 ? (kinds[0] ?? '') : 'various'"
            label="kind"
            kind="choice"
            :choices="book.of('kind').map((k) => ({ value: k.key, label: k.values.name }))"
            @change="(v) => emit('row', { kind: v })"
          />
        </template>
      </Sentence>
      <Sentence
        of="Reach"
        :fields="REACH"
        :values="reach"
        :parts="reachSentence"
        look="reach"
        @put="(f, v, done) => own(`reach.${f}`, v, done)"
      />
      <Sentence
        of="Body"
        :fields="BODY"
        :values="body"
        :parts="BODIES"
        @put="(f, v, done) => own(`body.${f}`, v, done)"
      />
      <Sentence
        of="Motion"
        :fields="MOTION"
        :values="motion"
        :parts="MOTIONS"
        @put="(f, v, done) => own(`motion.${f}`, v, done)"
      />
      <Sentence of="Design" :fields="DESIGN" :values="design" :parts="USE" @put="own" />
    </p>
    <p class="quiet small">Drag one of them and all move; arrows nudge, Ctrl+D duplicates, Delete deletes.</p>
  </SectionHead>
  <DeleteLine @remove="(clean) => emit('remove', clean)"
    ><button class="link" @click="emit('duplicate')">duplicate</button></DeleteLine
  >
</template>

<style scoped>
.sentences { line-height: 1.9; }
</style>
