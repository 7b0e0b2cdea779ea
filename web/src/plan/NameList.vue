<script setup lang="ts">
import { computed, nextTick } from 'vue'
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
/** Changes the list as it is once everything is kept, so that two changes in a row are both there. */
async function change(how: (now: string[]) => string[]): Promise<void> {
  const looked = book.lookedAt()
  await book.settled()
  await nextTick()
  book.asSeenAt(looked, () => emit('put', props.path, how(props.names), true))
}
const drop = (name: string): Promise<void> => change((now) => now.filter((n) => n !== name))
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
    @change="(v) => v && void change((now) => [...now, v])"
  />
</template>
