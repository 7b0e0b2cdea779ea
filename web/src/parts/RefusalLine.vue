<script setup lang="ts">
import { computed } from 'vue'
import { RefusedError, type Row } from '@/api/client'
import { useBook } from '@/stores/book'
import Problems from './Problems.vue'

/** What the server refused, beside the offer to mend it: both sides of a conflict, the uses of what is to go. */
const book = useBook()
const refusal = computed(() => book.refusal)
const theirs = computed<Row | undefined>(() => refusal.value?.theirs)
const fields = computed(() => Object.keys(refusal.value?.yours ?? {}))

function shown(value: unknown): string {
  return typeof value === 'string' ? value : JSON.stringify(value)
}
async function again(keepMine: boolean): Promise<void> {
  const row = theirs.value
  const yours = refusal.value?.yours
  if (!row || !yours) return
  const next = new Map(book.rows)
  next.set(row.id, row)
  book.rows = next
  book.refusal = null
  if (!keepMine) return
  try {
    await book.set(row.id, yours)
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
  }
}
</script>

<template>
  <v-alert v-if="refusal" class="refusal">
    <Problems :problems="refusal.problems" />
    <div v-if="theirs && fields.length" class="sides">
      <dl v-for="field in fields" :key="field">
        <dt>{{ field.replaceAll('_', ' ') }}</dt>
        <dd><b>yours</b> {{ shown(refusal.yours?.[field]) }}</dd>
        <dd><b>theirs</b> {{ shown((theirs.values as Record<string, unknown>)[field]) }}</dd>
      </dl>
      <button class="link" @click="again(true)">keep mine</button>
      <button class="link" @click="again(false)">take theirs</button>
    </div>
    <button v-else class="close" aria-label="Close" @click="book.refusal = null">×</button>
  </v-alert>
</template>

<style scoped>
.refusal { flex: none; padding: 4px 16px 8px; background: var(--page); border-bottom: 2px solid var(--amber); }
.refusal :deep(.v-alert__content) { display: flex; align-items: flex-start; gap: 16px; }
.sides { display: flex; gap: 16px; align-items: baseline; margin-top: 6px; }
dl, dd { margin: 0; }
dt { color: var(--pencil); font-size: 12.5px; }
.close { margin-left: auto; font-size: 18px; }
</style>
