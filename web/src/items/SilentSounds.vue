<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import { useBook } from '@/stores/book'
import { hear } from './hearing'
import SoundMaker from './SoundMaker.vue'

/** Where a text plays a sound that has no file yet, a placeholder is made beside it; where it names none, a sound. */
const props = defineProps<{ tokens: readonly Schemas['TokenShape'][]; text: string }>()
defineEmits<{ name: [] }>()
const book = useBook()
const silent = computed<RowOf<'sound'>[]>(() =>
  [...new Set(props.tokens.map((t) => t.value))].flatMap((key) => {
    const sound = key ? book.find('sound', key) : undefined
    return sound && !sound.values.file ? [sound] : []
  }),
)
const nameless = computed(() => /\bsound \?/.test(props.text))
</script>

<template>
  <p v-if="nameless" class="small silent">
    No sound is chosen. <button class="link" @click="$emit('name')">make a new sound for it</button>
  </p>
  <div v-for="sound in silent" :key="sound.id" class="small silent" :data-silent="sound.key">
    <b>▲ {{ sound.values.name }}</b> is silent: it has no file yet.
    <SoundMaker :sound="sound" lead="Make one here: a" @heard="hear(book.project, sound.key)" />
  </div>
</template>

<style scoped>
.silent { margin: 2px 0 4px; }
.silent b { color: var(--amber); }
.silent :deep(p) { margin: 0; }
</style>
