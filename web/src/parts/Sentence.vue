<script setup lang="ts">
import { computed } from 'vue'
import EditWord from './EditWord.vue'
import { fullField, piecesOf, type Fields, type FullField, type SentencePart, type TypeName } from './fields'

/** A sentence of a page, written as one: words, with slots for fields that can be changed where they stand. */
const props = defineProps<{
  /** The type of the record, or of the part of one, that the fields belong to. */
  of: TypeName
  fields: Fields
  values: object
  parts: readonly SentencePart[]
  /** Where the fields lie in a design, so that own values are marked; without it they are no part of one. */
  at?: string
  look?: '' | 'reach'
}>()
const emit = defineEmits<{ put: [field: string, value: unknown, done: boolean] }>()

const pieces = computed(() =>
  piecesOf(props.parts).map((piece) => {
    const field = 'field' in piece ? props.fields[piece.field] : undefined
    return { piece, full: 'field' in piece && field ? fullField(props.of, piece.field, field) : null }
  }),
)
const valueOf = (full: FullField): unknown => (props.values as Record<string, unknown>)[full.path] ?? full.usual
const pathOf = (full: FullField): string | undefined =>
  props.at === undefined ? undefined : props.at ? `${props.at}.${full.path}` : full.path
function put(full: FullField, typed: string, done: boolean): void {
  const value = full.kept(typed)
  if (value !== undefined) emit('put', full.path, value, done)
}
</script>

<template>
  <template v-for="({ piece, full }, i) in pieces" :key="i">
    <EditWord
      v-if="full"
      :text="full.said(valueOf(full))"
      :label="full.label"
      :kind="full.kind"
      :value="full.typed(valueOf(full))"
      :choices="full.choices"
      :min="full.lowest"
      :max="full.highest"
      :step="full.step"
      :path="pathOf(full)"
      :look="look"
      @live="(typed) => full.kind === 'number' && put(full, typed, false)"
      @change="(typed) => put(full, typed, true)"
    />
    <slot v-else-if="'slot' in piece" :name="piece.slot" />
    <template v-else-if="'words' in piece">{{ piece.words }}</template>
  </template>
</template>
