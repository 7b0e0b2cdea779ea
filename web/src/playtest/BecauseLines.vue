<script setup lang="ts">
import { computed, watch } from 'vue'
import NeedTree from './NeedTree.vue'
import type { Because, Told } from './connection'

/** What brought an entry about: what was done, what set its rule off, its needs as they were; each unfolds. */
const props = defineProps<{
  number: number
  because: ReadonlyMap<number, Because>
  told: Told[]
  /** How deep it stands: a chain ends with what the player did. */
  depth: number
}>()
const emit = defineEmits<{ ask: [number: number]; jump: [number: number] }>()
const mine = computed(() => props.because.get(props.number))
const before = computed(() => (mine.value && mine.value.after >= 0 ? mine.value.after : null))
const DEEPEST = 6
watch(
  () => [props.number, mine.value] as const,
  ([number, found]) => {
    if (!found) emit('ask', number)
  },
  { immediate: true },
)
</script>

<template>
  <ul v-if="mine" class="because">
    <NeedTree v-for="(need, i) in mine.needs" :key="i" :need="need" @jump="(n) => emit('jump', n)" />
    <li v-if="before !== null">
      because of this: <button class="link" @click="emit('jump', before)">{{ mine.said }}</button>
      <BecauseLines
        v-if="depth < DEEPEST"
        :number="before"
        :because="because"
        :told="told"
        :depth="depth + 1"
        @ask="(n) => emit('ask', n)"
        @jump="(n) => emit('jump', n)"
      />
    </li>
    <li v-else>because of {{ mine.cause }}</li>
  </ul>
</template>

<style scoped>
.because { list-style: none; margin: 0; padding-left: 18px; color: var(--dusk); white-space: normal; }
.link { border-bottom-color: #5b6670; color: var(--chalk); text-align: left; }
</style>
