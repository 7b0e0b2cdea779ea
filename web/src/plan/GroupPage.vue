<script setup lang="ts">
import { computed } from 'vue'
import DeleteLine from '@/page/DeleteLine.vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { asChoices } from '@/parts/choices'
import { useBook } from '@/stores/book'
import { valueAt, type Placed } from './designs'

/** Several objects together: sentences they share; words in which they differ read *various*; one edit changes all. */
const props = defineProps<{ objects: Placed[] }>()
const emit = defineEmits<{
  own: [path: string, value: unknown]
  row: [values: Record<string, unknown>]
  duplicate: []
  remove: [clean: boolean]
}>()
const book = useBook()

interface Word {
  path: string
  before: string
  unit: string
  kind: 'number' | 'choice'
  choices?: { value: string; label: string }[]
  min?: number
  step?: number
}
const YES = [
  { value: '1', label: 'yes' },
  { value: '', label: 'no' },
]
const WORDS: Word[] = [
  {
    path: 'reach.shape',
    before: 'Reach is',
    unit: '',
    kind: 'choice',
    choices: asChoices(['circle', 'box', 'wedge', 'none']),
  },
  { path: 'reach.radius_m', before: 'of', unit: ' m', kind: 'number', min: 0.1 },
  { path: 'reach.priority', before: 'with priority', unit: '', kind: 'number', step: 1 },
  { path: 'body.width_m', before: 'Bodies are', unit: ' m wide', kind: 'number', min: 0.05 },
  { path: 'body.depth_m', before: 'and', unit: ' m deep', kind: 'number', min: 0.05 },
  { path: 'body.height_m', before: 'and', unit: ' m high', kind: 'number', min: 0.05 },
  { path: 'motion.seconds', before: 'Motions take', unit: ' s', kind: 'number', min: 0 },
  { path: 'motion.stay_clear', before: 'and stay clear of people:', unit: '', kind: 'choice', choices: YES },
  { path: 'uses', before: 'Uses (0: any number):', unit: '', kind: 'number', min: 0, step: 1 },
  { path: 'cool_down_s', before: 'with a cool-down of', unit: ' s', kind: 'number', min: 0 },
  { path: 'fresh', before: 'Fresh each visit:', unit: '', kind: 'choice', choices: YES },
]
function shared(path: string): { text: string; value: unknown } {
  const values = props.objects.map((o) => valueAt(o.design, path))
  const same = values.every((v) => JSON.stringify(v) === JSON.stringify(values[0]))
  const first = values[0]
  return {
    text: same ? (typeof first === 'boolean' ? (first ? 'yes' : 'no') : String(first)) : 'various',
    value: same ? first : undefined,
  }
}
function put(word: Word, text: string): void {
  const usual = shared(word.path).value
  if (word.kind === 'number') {
    const value = Number(text)
    if (Number.isFinite(value)) emit('own', word.path, value)
  } else emit('own', word.path, word.choices === YES || typeof usual === 'boolean' ? text === '1' : text)
}
const kinds = computed(() => [...new Set(props.objects.map((o) => o.kind?.values.name ?? 'no kind'))])
const turn = computed(() => {
  const turns = new Set(props.objects.map((o) => o.row.values.turn_deg))
  return turns.size === 1 ? `${[...turns][0]}°` : 'various'
})
</script>

<template>
  <p class="small quiet">{{ kinds.length === 1 ? `all of them: ${kinds[0]}` : kinds.join(', ') }}</p>
  <h1>{{ objects.length }} objects</h1>
  <p class="quiet">{{ objects.map((o) => o.row.values.name).join(', ') }}</p>
  <SectionHead title="Together" remember="group">
    <p class="measure sentences">
      <span
        >Each is a
        <EditWord
          :text="kinds.length === 1 ? (kinds[0] ?? '') : 'various'"
          label="kind"
          kind="choice"
          :choices="book.of('kind').map((k) => ({ value: k.key, label: k.values.name }))"
          @change="(v) => emit('row', { kind: v })"
        />, turned
        <EditWord
          :text="turn"
          label="turn"
          kind="number"
          :value="turn === 'various' ? 0 : parseFloat(turn)"
          :step="15"
          @change="(v) => emit('row', { turn_deg: Number(v) || 0 })"
        />.
      </span>
      <span v-for="word in WORDS" :key="word.path"
        >{{ word.before }}
        <EditWord
          :text="shared(word.path).text + (shared(word.path).text === 'various' ? '' : word.unit)"
          :label="word.path"
          :kind="word.kind"
          :value="shared(word.path).value === undefined ? '' : String(shared(word.path).value)"
          :choices="word.choices"
          :min="word.min"
          :step="word.step"
          :look="word.path.startsWith('reach') ? 'reach' : ''"
          @change="(v) => put(word, v)"
        />
      </span>
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
