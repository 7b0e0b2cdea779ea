<script setup lang="ts">
import { computed } from 'vue'
import type { Schemas } from '@/api/client'

/** Cues that wait for a press which nothing raises, each sort once, with the change that mends them. */
const props = defineProps<{ cues: Schemas['InVainShape'][] }>()
defineEmits<{ mend: [cues: Schemas['InVainShape'][]] }>()
const momentOf = (text: string): string => (text.split('\n')[0] ?? '').trim()
const sorts = computed(() => {
  const found = new Map<string, Schemas['InVainShape'][]>()
  for (const one of props.cues) {
    const sort = `${one.says}|${momentOf(one.instead)}`
    found.set(sort, [...(found.get(sort) ?? []), one])
  }
  return [...found.values()].map((cues) => ({
    cues,
    says: cues[0]?.says ?? '',
    moment: momentOf(cues[0]?.instead ?? ''),
  }))
})
</script>

<template>
  <p v-for="sort in sorts" :key="sort.says + sort.moment" class="small trouble" data-in-vain role="status">
    <span aria-hidden="true">▲</span>
    {{ sort.cues.length > 1 ? `${sort.cues.length} cues never run` : 'The cue never runs' }}: {{ sort.says }}.
    <button v-if="sort.moment" class="link" @click="$emit('mend', sort.cues)">change to “{{ sort.moment }}”</button>
  </p>
</template>
