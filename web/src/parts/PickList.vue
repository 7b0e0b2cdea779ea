<script setup lang="ts" generic="Option extends { id: string | number }">
import { computed, nextTick, ref, useId, watch } from 'vue'

/** A list that opens over the page: a few letters narrow it down, arrows and Enter or a press choose. */
const props = defineProps<{
  options: readonly Option[]
  /** Where it opens: a point of the window, or what it belongs to. */
  target: [number, number] | string
  label: string
  placeholder?: string
}>()
const emit = defineEmits<{ pick: [option: Option]; close: [] }>()
const typed = defineModel<string>({ required: true })

/** So many are shown at first; the rest when they are asked for. */
const FIRST = 30
const list = useId()
const all = ref(false)
const active = ref(0)
const field = ref<HTMLInputElement | null>(null)
const shown = computed(() => (all.value ? props.options : props.options.slice(0, FIRST)))
const rest = computed(() => props.options.length - shown.value.length)

function walk(by: number): void {
  if (active.value + by >= shown.value.length) all.value = true
  active.value = Math.max(0, Math.min(active.value + by, shown.value.length - 1))
  void nextTick(() => document.getElementById(`${list}-${active.value}`)?.scrollIntoView({ block: 'nearest' }))
}
function onKey(event: KeyboardEvent): void {
  event.stopPropagation()
  const chosen = shown.value[active.value]
  if (event.key === 'Escape') emit('close')
  else if (event.key === 'ArrowDown') walk(1)
  else if (event.key === 'ArrowUp') walk(-1)
  else if (event.key === 'Enter' && chosen) emit('pick', chosen)
  else return
  event.preventDefault()
}
watch(typed, () => {
  active.value = 0
  all.value = false
})
watch(field, (there) => there?.focus(), { flush: 'post' })
</script>

<template>
  <v-menu
    :model-value="true"
    :target="target"
    :offset="0"
    :scrim="false"
    :close-on-content-click="false"
    @update:model-value="(open) => open || emit('close')"
  >
    <div class="pick-list" role="dialog" :aria-label="label">
      <input
        ref="field"
        v-model="typed"
        role="combobox"
        aria-expanded="true"
        :aria-controls="list"
        :aria-activedescendant="shown.length ? `${list}-${active}` : undefined"
        :aria-label="label"
        :placeholder="placeholder"
        @keydown="onKey"
        @blur="emit('close')"
      />
      <ul :id="list" role="listbox" :aria-label="label">
        <li
          v-for="(one, i) in shown"
          :id="`${list}-${i}`"
          :key="one.id"
          role="option"
          :aria-selected="i === active"
          :class="{ active: i === active }"
          @pointerdown.prevent="emit('pick', one)"
        >
          <slot :option="one" />
        </li>
      </ul>
      <button v-if="rest" class="link small" tabindex="-1" @pointerdown.prevent="all = true">
        and {{ rest }} more
      </button>
      <p v-if="!options.length" class="quiet none"><slot name="none" /></p>
    </div>
  </v-menu>
</template>

<style scoped>
.pick-list {
  width: 340px; background: var(--page); color: var(--ink); border: 1.5px solid var(--ink);
  border-radius: 8px; padding: 8px; box-shadow: 0 8px 28px #22303c2b;
}
input {
  width: 100%; border: 0; border-bottom: 1.5px solid var(--line); outline: none; font: inherit;
  background: none; padding: 2px 4px;
}
ul { list-style: none; margin: 6px 0 0; padding: 0; max-height: min(52vh, 420px); overflow: auto; }
li {
  display: flex; align-items: center; gap: 8px; padding: 3px 6px; border-radius: 4px; cursor: pointer;
  line-height: 1.4;
}
li :deep(b) { font-weight: 600; }
li.active { background: var(--shade); }
.none { margin: 0; padding: 3px 6px; }
.link { margin: 4px 6px 0; }
</style>
