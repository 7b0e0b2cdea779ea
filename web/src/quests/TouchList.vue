<script setup lang="ts">
import type { Schemas } from '@/api/client'

defineProps<{ touches: Schemas['TouchShape'][]; empty: string; sources?: boolean }>()
defineEmits<{ go: [place: string] }>()
</script>

<template>
  <ul>
    <li v-for="(touch, i) in touches" :key="i">
      <span v-if="sources && touch.from_stages.length" class="from"
        >from <b>{{ touch.from_stages.join(', ') }}</b>:
      </span>
      <button class="link" @click="$emit('go', touch.place)">{{ touch.text }}</button>
      <span v-if="touch.quote" class="quiet">&nbsp;“{{ touch.quote }}”</span>
    </li>
    <li v-if="!touches.length" class="quiet">{{ empty }}</li>
  </ul>
</template>

<style scoped>
ul { list-style: none; margin: 0; padding: 0; }
</style>
