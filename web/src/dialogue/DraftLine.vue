<script setup lang="ts">
import { nextTick, onBeforeUnmount, onMounted, ref } from 'vue'

/**
 * Something that is about to be said: it is no line yet, and none becomes of it while it is empty. What is typed is the
 * page's, so that it goes along where the draft does.
 */
defineProps<{ speaker: string; reply: boolean }>()
const emit = defineEmits<{
  /** Kept, and with `on` something more is written after it. */
  keep: [on: boolean]
  /** Tab and Shift+Tab: deeper, or back. */
  indent: [by: 1 | -1]
  close: []
}>()
const words = defineModel<string>({ required: true })
const field = ref<HTMLTextAreaElement | null>(null)
let leaving = false

function onKey(event: KeyboardEvent): void {
  event.stopPropagation()
  if (event.key === 'Escape') emit('close')
  else if (event.key === 'Enter' && !event.shiftKey) emit('keep', true)
  else if (event.key === 'Tab') emit('indent', event.shiftKey ? -1 : 1)
  else return
  event.preventDefault()
}
function leave(): void {
  if (!leaving) emit('keep', false)
}
onMounted(async () => {
  await nextTick()
  field.value?.focus()
})
onBeforeUnmount(() => (leaving = true))
</script>

<template>
  <p class="draft" :class="{ reply }">
    <span v-if="reply" class="mark" aria-hidden="true">›</span><span v-else class="speaker">{{ speaker }}</span>
    <textarea
      ref="field"
      v-model="words"
      rows="1"
      :aria-label="reply ? 'A new reply' : 'A new line'"
      :placeholder="reply ? 'what is answered' : 'what is said'"
      @keydown="onKey"
      @blur="leave"
    />
    <span class="quiet small hint">{{
      reply
        ? 'Enter: next answer · Tab: what follows it · Shift+Tab: a line · Esc'
        : 'Enter: next line · Tab: an answer · Esc'
    }}</span>
  </p>
</template>

<style scoped>
.draft { margin: 4px 0; }
.reply { padding-left: 26px; }
.mark { font-weight: 700; margin-right: 10px; }
.speaker { font-size: 12.5px; font-weight: 650; letter-spacing: 0.06em; color: var(--pencil); margin-right: 10px; }
textarea {
  font: inherit; width: min(420px, 70%); border: 0; border-bottom: 2px solid var(--ink); background: none;
  resize: none; outline: none; vertical-align: bottom; field-sizing: content;
}
.hint { display: block; }
</style>
