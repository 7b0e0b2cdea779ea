<script setup lang="ts">
/** What can be done with a whole need or step, beside what else it could be. */
defineProps<{ what: string; copied: string }>()
defineEmits<{ earlier: []; later: []; copy: []; cut: []; paste: []; remove: [] }>()
</script>

<template>
  <button v-tooltip="'Alt+↑'" class="link" @click="$emit('earlier')">earlier</button>
  <button v-tooltip="'Alt+↓'" class="link" @click="$emit('later')">later</button>
  <button v-tooltip="'Ctrl+C'" class="link" @click="$emit('copy')">copy</button>
  <button v-tooltip="'Ctrl+X'" class="link" @click="$emit('cut')">cut</button>
  <button v-if="copied" v-tooltip="`Ctrl+V: ${copied}`" class="link" @click="$emit('paste')">paste after it</button>
  <button v-tooltip="'Delete'" class="link" @click="$emit('remove')">remove this {{ what }}</button>
</template>

<style scoped>
.link { margin-right: 12px; }
</style>
