<script setup lang="ts">
/** What can be done with a whole need or step, beside what else it could be. */
defineProps<{ what: string; copied: string }>()
defineEmits<{ earlier: []; later: []; copy: []; cut: []; paste: []; remove: [] }>()
</script>

<template>
  <button class="link" title="Alt+↑" @click="$emit('earlier')">earlier</button>
  <button class="link" title="Alt+↓" @click="$emit('later')">later</button>
  <button class="link" title="Ctrl+C" @click="$emit('copy')">copy</button>
  <button class="link" title="Ctrl+X" @click="$emit('cut')">cut</button>
  <button v-if="copied" class="link" :title="`Ctrl+V: ${copied}`" @click="$emit('paste')">paste after it</button>
  <button class="link" title="Delete" @click="$emit('remove')">remove this {{ what }}</button>
</template>

<style scoped>
.link { margin-right: 12px; }
</style>
