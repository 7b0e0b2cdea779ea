<script setup lang="ts">
import EditWord from '@/parts/EditWord.vue'
import { useBook } from '@/stores/book'
import { useQuietly } from './quietly'

/** The name of a record in cues; once set by hand it follows the shown name no longer. */
const props = defineProps<{ record: { id: number; key: string } }>()
const emit = defineEmits<{ renamed: [key: string] }>()
const book = useBook()
const { quietly } = useQuietly()
async function rename(key: string): Promise<void> {
  if (await quietly(book.edit([{ do: 'set', id: props.record.id, key }]))) emit('renamed', key)
}
</script>

<template>
  <EditWord class="mono" :text="record.key" label="name in cues" kind="text" @change="rename" />
</template>
