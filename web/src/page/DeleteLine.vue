<script setup lang="ts">
import { computed } from 'vue'
import { useBook } from '@/stores/book'
import UseList from './UseList.vue'
import { counted } from '@/parts/plural'

/** Deleting: lists what uses a thing, and offers to leave holes there. */
withDefaults(defineProps<{ says?: string }>(), { says: 'delete' })
defineEmits<{ remove: [clean: boolean] }>()
const book = useBook()
const inUse = computed(() => (book.refusal?.problems[0]?.code === 'in_use' ? book.refusal : null))
</script>

<template>
  <p class="last small">
    <slot /> <button v-tooltip="'Delete'" class="link" @click="$emit('remove', false)">{{ says }}</button>
  </p>
  <div v-if="inUse" class="clean" role="alert">
    <p>Deleting it would leave {{ counted(inUse.uses?.length ?? 0, 'place') }} with a hole:</p>
    <UseList :uses="inUse.uses?.map((u) => ({ ...u, field: '' })) ?? []" empty="" />
    <p>
      <button class="link trouble" @click="$emit('remove', true)">delete it and leave holes there</button> ·
      <button class="link" @click="book.refusal = null">keep it</button>
    </p>
  </div>
</template>

<style scoped>
.last { margin-top: 20px; display: flex; gap: 16px; color: var(--pencil); }
.clean { border-left: 3px solid var(--amber); padding: 4px 0 4px 12px; margin-top: 8px; }
</style>
