<script setup lang="ts">
import type { Schemas } from '@/api/client'

/** Cues that wait for a press which nothing raises, each with the change that mends it. */
defineProps<{ cues: Schemas['InVainShape'][] }>()
defineEmits<{ mend: [cue: number, text: string] }>()
const momentOf = (text: string): string => (text.split('\n')[0] ?? '').trim()
</script>

<template>
  <p v-for="one in cues" :key="one.cue" class="small trouble" data-in-vain role="status">
    <span aria-hidden="true">▲</span> The cue never runs: {{ one.says }}.
    <button v-if="one.instead" class="link" @click="$emit('mend', one.cue, one.instead)">
      change it to “{{ momentOf(one.instead) }}”
    </button>
  </p>
</template>
