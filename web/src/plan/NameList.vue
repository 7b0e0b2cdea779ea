<script setup lang="ts">
import { computed } from 'vue'
import EditWord from '@/parts/EditWord.vue'
import { useBook } from '@/stores/book'

/** Several names in a sentence: each can be taken off by a click, and another put to them. */
const props = defineProps<{
  type: 'tag' | 'ability'
  label: string
  names: string[]
  path: string
  /** What stands there while there is none, and what adds one. */
  none: string
  add: string
  /** What a click on a name does, in words before it. */
  off: string
}>()
const emit = defineEmits<{ put: [path: string, names: string[], done: boolean] }>()
const book = useBook()
const others = computed(() =>
  book.of(props.type).filter((r) => !props.names.includes(r.key)).map((r) => ({ value: r.key, label: r.values.name })),
)
const drop = (name: string): void => emit('put', props.path, props.names.filter((n) => n !== name), true)
</script>

<template>
  <template v-for="name in names" :key="name">
    <button class="word" :aria-label="`${off} ${book.name(name)}`" @click="drop(name)">{{ book.name(name) }}</button>
    {{ ' ' }}
  </template>
  <EditWord
    :path="path"
    :text="names.length ? add : none"
    :label="label"
    kind="choice"
    :choices="others"
    @change="(v) => v && emit('put', path, [...names, v], true)"
  />
</template>
