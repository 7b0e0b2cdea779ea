<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import { iconPath } from '@/theme/icons'

/** What can be placed: kinds of the project first, then starters that are not among them yet. */
const props = defineProps<{
  kinds: readonly RowOf<'kind'>[]
  starters: Schemas['StarterShape'][]
  begun: string
  x: number
  y: number
}>()
const emit = defineEmits<{ place: [what: { kind: string; starter: string }]; close: [] }>()

const typed = ref(props.begun)
const active = ref(0)
const field = ref<HTMLInputElement | null>(null)
const all = computed(() => [
  ...props.kinds.map((k) => ({
    id: `k${k.key}`,
    name: k.values.name,
    says: 'a kind of this project',
    icon: k.values.design.icon,
    kind: k.key,
    starter: '',
  })),
  ...props.starters
    .filter((s) => !props.kinds.some((k) => k.values.starter === s.key && k.values.name === s.name))
    .map((s) => ({ id: `s${s.key}`, name: s.name, says: s.sentence, icon: s.icon, kind: '', starter: s.key })),
])
const shown = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  const begins = all.value.filter((o) => o.name.toLowerCase().startsWith(wanted))
  return [...begins, ...all.value.filter((o) => !begins.includes(o) && o.name.toLowerCase().includes(wanted))]
})
function take(one: (typeof all.value)[number] | undefined): void {
  if (one) emit('place', { kind: one.kind, starter: one.starter })
}
function onKey(event: KeyboardEvent): void {
  event.stopPropagation()
  if (event.key === 'Escape') emit('close')
  if (event.key === 'ArrowDown') active.value = Math.min(active.value + 1, shown.value.length - 1)
  if (event.key === 'ArrowUp') active.value = Math.max(active.value - 1, 0)
  if (event.key === 'Enter') take(shown.value[active.value])
}
watch(field, (shown) => shown?.focus(), { flush: 'post' })
</script>

<template>
  <v-menu
    :model-value="true"
    :target="[x, y]"
    :offset="0"
    :scrim="false"
    :close-on-content-click="false"
    @update:model-value="(open) => open || emit('close')"
  >
    <div class="add" role="dialog" aria-label="Place something">
      <input
        ref="field"
        v-model="typed"
        role="combobox"
        aria-expanded="true"
        aria-controls="add-options"
        aria-label="What to place"
        placeholder="a few letters: lamp, door …"
        @keydown="onKey"
        @blur="emit('close')"
        @input="active = 0"
      />
      <ul id="add-options" role="listbox" aria-label="What can be placed">
        <li
          v-for="(one, i) in shown"
          :key="one.id"
          role="option"
          :aria-selected="i === active"
          :class="{ active: i === active }"
          @pointerdown.prevent="take(one)"
        >
          <svg width="18" height="18" viewBox="0 0 24 24" aria-hidden="true">
            <path :d="iconPath(one.icon)" fill="currentColor" />
          </svg>
          <b>{{ one.name }}</b> <span class="quiet small">{{ one.says }}</span>
        </li>
        <li v-if="!shown.length" class="quiet">No kind is called that. A switch can be made into anything.</li>
      </ul>
    </div>
  </v-menu>
</template>

<style scoped>
.add {
  width: 330px; background: var(--page); border: 1.5px solid var(--ink);
  border-radius: 8px; padding: 8px; box-shadow: 0 8px 28px #22303c2b;
}
input {
  width: 100%; border: 0; border-bottom: 1.5px solid var(--line); outline: none; font: inherit;
  background: none; padding: 2px 4px;
}
ul { list-style: none; margin: 6px 0 0; padding: 0; max-height: 300px; overflow: auto; }
li {
  display: flex; align-items: center; gap: 8px; padding: 3px 6px; border-radius: 4px; cursor: pointer;
  line-height: 1.4;
}
li b { white-space: nowrap; font-weight: 600; }
li.active { background: var(--shade); }
</style>
