<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import { useQuietly } from '@/page/quietly'
import type { SentencePart } from '@/parts/fields'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import { useBook } from '@/stores/book'
import CornerList from './CornerList.vue'
import { WALL } from './fields'

const props = defineProps<{ wall: RowOf<'wall'> }>()
defineEmits<{ remove: [clean: boolean] }>()
const book = useBook()
const { quietly } = useQuietly()
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.wall.id, values))
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
const parts = computed<SentencePart[]>(() => [
  'It is {glass} and ',
  props.wall.values.height_m === null ? '{ceiling}.' : 'is {height_m} high.',
])
</script>

<template>
  <p class="small quiet">a wall, <span class="mono">{{ wall.key }}</span></p>
  <h1>Wall</h1>
  <SectionHead title="What it stops" remember="wall">
    <p class="measure">
      <Sentence of="Wall" :fields="WALL" :values="wall.values" :parts="parts" @put="put" />
    </p>
  </SectionHead>
  <CornerList :points="wall.values.points" :least="2" @change="(points) => set({ points })" />
  <DeleteLine @remove="(clean) => $emit('remove', clean)" />
</template>
