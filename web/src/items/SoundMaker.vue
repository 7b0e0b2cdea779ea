<script setup lang="ts">
import { ref } from 'vue'
import type { Problem, RowOf, Schemas } from '@/api/client'
import { asChoices } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import Problems from '@/parts/Problems.vue'
import { problemsOf, useBook } from '@/stores/book'

/** A placeholder made from a few words and heard at once; its own file can take its place later. */
const props = defineProps<{ sound: RowOf<'sound'>; lead?: string }>()
const emit = defineEmits<{ heard: [] }>()
const book = useBook()
type Sort = Schemas['PlaceholderAsked']['sort']
const SORTS: Sort[] = ['knock', 'creak', 'chime', 'splash', 'step', 'hum', 'whoosh']
const HIGH = [
  { value: '0.1', label: 'very low' },
  { value: '0.25', label: 'low' },
  { value: '0.45', label: 'middling' },
  { value: '0.7', label: 'high' },
  { value: '0.9', label: 'very high' },
]
const ROUGH = [
  { value: '0', label: 'smooth' },
  { value: '0.2', label: 'a little rough' },
  { value: '0.5', label: 'rough' },
  { value: '0.9', label: 'very rough' },
]
const sort = ref<Sort>('knock')
const seconds = ref(0.5)
const height = ref('0.45')
const rough = ref('0.2')
const problems = ref<Problem[]>([])
const said = (choices: typeof HIGH, value: string): string => choices.find((c) => c.value === value)?.label ?? value
async function make(): Promise<void> {
  problems.value = []
  try {
    await book.makeSound(props.sound.id, {
      sort: sort.value,
      seconds: seconds.value,
      height: Number(height.value),
      rough: Number(rough.value),
    })
    emit('heard')
  } catch (error) {
    problems.value = problemsOf(error)
  }
}
</script>

<template>
  <p class="measure">
    {{ lead ?? 'Or make one: a' }}{{ ' ' }}
    <EditWord
      :text="sort"
      label="sort of sound"
      kind="choice"
      :choices="asChoices(SORTS)"
      @change="(v) => (sort = v as Sort)"
    />, <EditWord
      :text="`${seconds} s`"
      label="sound seconds"
      kind="number"
      :value="seconds"
      :min="0.05"
      :max="20"
      @change="(v) => (seconds = Number(v) || seconds)"
    />
    long,
    <EditWord
      :text="said(HIGH, height)"
      label="height"
      kind="choice"
      :choices="HIGH"
      @change="(v) => (height = v)"
    />,
    <EditWord
      :text="said(ROUGH, rough)"
      label="roughness"
      kind="choice"
      :choices="ROUGH"
      @change="(v) => (rough = v)"
    />.
    <button class="link" @click="make">make and hear it</button>
  </p>
  <Problems :problems="problems" />
</template>
