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
    also: '',
    icon: k.values.design.icon,
    kind: k.key,
    starter: '',
  })),
  ...props.starters
    .filter((s) => !props.kinds.some((k) => k.values.starter === s.key && k.values.name === s.name))
    .map((s) => ({
      id: `s${s.key}`,
      name: s.name,
      says: s.sentence,
      also: s.also,
      icon: s.icon,
      kind: '',
      starter: s.key,
    })),
])
const shown = computed(() => {
  const wanted = typed.value.trim().toLowerCase()
  const weight = (one: { name: string; says: string; also: string }): number => {
    const tries = [one.name.toLowerCase(), one.also, one.says.toLowerCase()]
    if (tries[0]?.startsWith(wanted)) return 0
    const at = tries.findIndex((text) => text.includes(wanted))
    return at < 0 ? Infinity : at + 1
  }
  const found = all.value.map((one) => ({ one, weight: weight(one) })).filter((o) => o.weight < Infinity)
  return found.sort((a, b) => a.weight - b.weight).map((o) => o.one)
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
