<script setup lang="ts">
import { computed, ref } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import PickList from '@/parts/PickList.vue'
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
const take = (one: { kind: string; starter: string }): void => emit('place', { kind: one.kind, starter: one.starter })
</script>

<template>
  <PickList
    v-model="typed"
    :options="shown"
    :target="[x, y]"
    label="What to place"
    placeholder="a few letters: lamp, door …"
    @pick="take"
    @close="emit('close')"
  >
    <template #default="{ option }">
      <svg width="18" height="18" viewBox="0 0 24 24" aria-hidden="true">
        <path :d="iconPath(option.icon)" fill="currentColor" />
      </svg>
      <b>{{ option.name }}</b> <span class="quiet small">{{ option.says }}</span>
    </template>
    <template #none>No kind is called that. A switch can be made into anything.</template>
  </PickList>
</template>

<style scoped>
b { white-space: nowrap; }
svg { flex: none; }
</style>
