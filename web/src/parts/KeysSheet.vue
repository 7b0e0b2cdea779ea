<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import { EVERYWHERE, HERE } from './keyWords'

/** What the keys do here, and what every word of the language and of the program means. */
const props = defineProps<{ place: string }>()
const emit = defineEmits<{ close: [] }>()
const words = ref<Schemas['WordShape'][]>([])
const wanted = ref('')
const field = ref<HTMLInputElement | null>(null)
const rows = computed(() => [...(HERE[props.place] ?? []), ...EVERYWHERE])

const found = computed(() => {
  const parts = wanted.value.trim().toLowerCase().split(/\s+/).filter(Boolean)
  if (!parts.length) return []
  const said = (w: Schemas['WordShape']): string => `${w.text} ${w.means} ${w.sort} ${w.example}`.toLowerCase()
  const fits = words.value.filter((w) => parts.every((p) => said(w).includes(p)))
  return fits.sort((a, b) => rank(a, parts) - rank(b, parts))
})
/** What is called by what was typed stands before what only speaks of it. */
function rank(word: Schemas['WordShape'], parts: string[]): number {
  const text = word.text.toLowerCase()
  return text.startsWith(parts[0] ?? '') ? 0 : parts.every((p) => text.includes(p)) ? 1 : 2
}
function onKey(event: KeyboardEvent): void {
  if (event.key !== 'Escape') return
  event.preventDefault()
  event.stopPropagation()
  if (wanted.value) wanted.value = ''
  else emit('close')
}
onMounted(async () => {
  await nextTick()
  field.value?.focus()
  words.value = answered<Schemas['WordShape'][]>(await api.GET('/api/words'))
})
</script>

<template>
  <v-overlay
    :model-value="true"
    :scrim="false"
    persistent
    no-click-animation
    scroll-strategy="none"
    class="help"
    role="dialog"
    content-class="keys"
    aria-label="Help"
  >
    <header>
      <input
        ref="field"
        v-model="wanted"
        aria-label="Look up a moment, need, step, status or word"
        placeholder="look up a word: near, take, reach …"
        @keydown="onKey"
      />
      <button class="close" aria-label="Close" @click="$emit('close')">×</button>
    </header>
    <dl v-if="!wanted.trim()" class="by-key">
      <template v-for="[key, does] in rows" :key="key"
        ><dt>
          <span class="key">{{ key }}</span>
        </dt>
        <dd>{{ does }}</dd></template
      >
    </dl>
    <dl v-else class="words">
      <template v-for="word in found" :key="`${word.sort} ${word.text} ${word.example}`">
        <dt>
          <b>{{ word.text.replaceAll('?', '…') }}</b> <span class="sort">{{ word.sort }}</span>
        </dt>
        <dd>
          {{ word.means }}<span v-if="word.example" class="mono example">{{ word.example }}</span>
        </dd>
      </template>
      <dd v-if="!found.length">Nothing is called that, and no explanation speaks of it.</dd>
    </dl>
  </v-overlay>
</template>

<style scoped>
.help { align-items: flex-end; }
.help :deep(.keys) {
  margin: 16px; width: 430px; max-height: calc(100vh - 80px);
  display: flex; flex-direction: column; background: var(--ink); color: var(--page); padding: 12px 18px 14px;
  border-radius: 10px; box-shadow: 0 8px 32px #0005;
}
header { display: flex; gap: 10px; align-items: center; margin-bottom: 8px; }
input {
  flex: 1; font: inherit; color: inherit; background: none; border: 0; border-bottom: 1.5px solid #8e99a3;
  padding: 2px; outline-offset: 3px; outline-color: var(--page);
}
input::placeholder { color: #b9c1c8; }
dl { margin: 0; font-size: 13px; overflow: auto; }
.by-key { display: grid; grid-template-columns: auto 1fr; gap: 2px 14px; }
.by-key dt { text-align: right; }
.words dt { margin-top: 8px; }
dd { margin: 0; }
.sort { color: #b9c1c8; margin-left: 6px; }
.example { display: block; font-size: 12px; color: #d6dbdf; }
.close { font-size: 18px; }
</style>
