<script setup lang="ts">
import { computed } from 'vue'
import type { Choice } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import { useBook } from '@/stores/book'

/** Several names in a sentence: each can be taken off by a click, and another put to them. */
const props = defineProps<{
  /** Of which type they are, or out of which they are chosen. */
  type?: 'tag' | 'ability'
  choices?: readonly Choice[]
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
const every = computed<readonly Choice[]>(
  () =>
    props.choices ??
    (props.type ? book.of(props.type).map((r) => ({ value: r.key, label: r.values.name })) : []),
)
const called = (name: string): string => every.value.find((one) => one.value === name)?.label ?? book.name(name)
const others = computed(() => every.value.filter((one) => !props.names.includes(one.value)))
const put = (names: string[]): void => emit('put', props.path, names, true)
const drop = (name: string): void => put(props.names.filter((n) => n !== name))
</script>

<template>
  <template v-for="(name, i) in names" :key="name"
    >{{ i ? ', ' : ''
    }}<button class="word" :aria-label="`${off} ${called(name)}`" @click="drop(name)">{{
      called(name)
    }}</button></template
  >{{ names.length ? ' ' : '' }}
  <EditWord
    :path="path"
    :text="names.length ? add : none"
    :label="label"
    kind="choice"
    :choices="others"
    @change="(v) => v && put([...names, v])"
  />
</template>
