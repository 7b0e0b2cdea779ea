<script setup lang="ts">
import { computed, nextTick, onMounted, ref } from 'vue'
import type { WalkShown } from './connection'

/** A walk about to be kept: its name, and what it must come to whenever it is walked again. */
const props = defineProps<{ walk: WalkShown; name: string }>()
const emit = defineEmits<{ keep: [name: string, values: Record<string, unknown>]; close: [] }>()
const called = ref(props.name)
const field = ref<HTMLInputElement | null>(null)
const usual = new Set((props.walk.values.comes_to as { column: string }[]).map((h) => h.column))
const chosen = ref(new Set(usual))
const AT_FIRST = 8
const all = ref(false)
/** What it is held to by itself stands first; the rest follows on asking. */
const shown = computed(() => (all.value ? props.walk.could : props.walk.could.slice(0, Math.max(AT_FIRST, usual.size))))
function turn(column: string): void {
  const next = new Set(chosen.value)
  if (!next.delete(column)) next.add(column)
  chosen.value = next
}
function keep(): void {
  const comes_to = props.walk.could.filter((h) => chosen.value.has(h.column)).map((h) => ({ ...h, seconds: null }))
  emit('keep', called.value.trim() || props.name, { ...props.walk.values, comes_to })
}
onMounted(() => void nextTick(() => field.value?.select()))
</script>

<template>
  <form class="keep" aria-label="Keep this walk" @submit.prevent="keep" @keydown.esc.stop="emit('close')">
    <h2>Keep this walk</h2>
    <input ref="field" v-model="called" maxlength="100" aria-label="Name of the walk" />
    <p class="dusk">Whenever it is walked again it must come to:</p>
    <label v-for="one in shown" :key="one.column">
      <input type="checkbox" :checked="chosen.has(one.column)" @change="turn(one.column)" />
      {{ one.says }}
    </label>
    <p v-if="!walk.could.length" class="dusk">
      Nothing has come of it yet that it could be held to. It is kept all the same, and says when it cannot be walked
      any more.
    </p>
    <p v-if="shown.length < walk.could.length">
      <button type="button" class="link" @click="all = true">{{ walk.could.length - shown.length }} more</button>
    </p>
    <p class="do">
      <button class="link strong" type="submit">keep it</button>
      <button class="link" type="button" @click="emit('close')">not now</button>
    </p>
  </form>
</template>

<style scoped>
.keep { border-left: 2px solid var(--glow); padding-left: 14px; margin-bottom: 18px; }
input:not([type]) {
  width: 100%; margin: 6px 0 8px; padding: 2px 4px; color: var(--chalk); background: var(--night); border: 0;
  border-bottom: 2px solid var(--chalk);
}
label { display: flex; gap: 8px; align-items: baseline; padding: 1px 0; }
label input { accent-color: #8fc79a; }
.do { display: flex; gap: 16px; margin-top: 8px; }
.strong { font-weight: 650; }
.dusk { color: var(--dusk); } .link { border-bottom-color: #5b6670; } .link:hover { background: var(--night); }
</style>
