<script setup lang="ts">
import { useDebounceFn } from '@vueuse/core'
import { computed } from 'vue'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import { useTried, type TriedValue } from '@/stores/tried'
import type { Tunable } from './tunables'

/** Values that can be tried while walking, and those that were and are not in the project. */
const props = defineProps<{
  groups: { title: string; tunables: Tunable[] }[]
  /** What is tried in this walk, by `of` and `path`. */
  applied: ReadonlyMap<string, number | boolean>
}>()
const emit = defineEmits<{ try: [one: Tunable, value: number | boolean] }>()
const tried = useTried()
const { quietly } = useQuietly()
const groups = computed(() => props.groups.filter((g) => g.tunables.length))
const keyOf = (one: { of: string; path: string }): string => `${one.of} ${one.path}`
const now = (one: Tunable): number | boolean => props.applied.get(keyOf(one)) ?? one.value
/** Tried in an earlier walk, and in this one not. */
const resting = (one: TriedValue): boolean => props.applied.get(keyOf(one)) !== one.value
function change(one: Tunable, typed: string): void {
  const value = typeof one.value === 'boolean' ? typed === '1' : Number(typed)
  if (typeof value === 'number' && (!typed.trim() || !Number.isFinite(value))) return
  if (value !== now(one)) emit('try', one, value)
}
/** While a number is dragged it is tried as soon as it rests for a moment. */
const soon = useDebounceFn(change, 250)
const CHOICES = [
  { value: '1', label: 'yes' },
  { value: '', label: 'no' },
]
function again(one: TriedValue): void {
  emit('try', { ...one, step: 0, lowest: 0, highest: 0 }, one.value)
}
</script>

<template>
  <section class="try" aria-label="Try values">
    <template v-for="group in groups" :key="group.title">
      <h2>{{ group.title }}</h2>
      <p v-for="one in group.tunables" :key="keyOf(one)" class="one">
        <span>{{ one.label }}</span> <span class="gap" />
        <EditWord
          v-if="typeof one.value === 'boolean'"
          :text="now(one) ? 'yes' : 'no'"
          :label="`${group.title}: ${one.label}`"
          kind="choice"
          :value="now(one) ? '1' : ''"
          :choices="CHOICES"
          @change="(typed) => change(one, typed)"
        />
        <EditWord
          v-else
          :text="`${now(one)}${one.unit}`"
          :label="`${group.title}: ${one.label}`"
          kind="number"
          :value="Number(now(one))"
          :min="one.lowest"
          :max="one.highest"
          :step="one.step"
          @live="(typed) => soon(one, typed)"
          @change="(typed) => change(one, typed)"
        />
      </p>
    </template>
    <header>
      <h2>Tried, not kept</h2>
      <span class="rule" />
      <button v-if="tried.all.length > 1" class="link" @click="quietly(tried.keep(tried.all))">
        put all into the project
      </button>
    </header>
    <p v-if="!tried.all.length" class="dusk">
      Change a value above while you walk: it shows at once, and stands here until you put it into the project.
    </p>
    <p v-for="one in tried.all" :key="keyOf(one)" class="one" :data-tried="keyOf(one)">
      <span>{{ tried.nameOf(one) }} {{ one.label }}</span> <span class="gap" />
      <span class="mono"
        >{{ tried.said(one.was, '') }} → <b class="glow">{{ tried.said(one.value, one.unit) }}</b></span
      >
      <button v-if="resting(one)" class="link" @click="again(one)">try</button>
      <button class="link" @click="quietly(tried.keep([one]))">keep</button>
      <button class="link" :aria-label="`Let go of ${tried.words(one)}`" @click="tried.drop([one])">let go</button>
    </p>
    <p v-if="tried.all.length" class="dusk small">Leaving the walk keeps this list; nothing is in the project yet.</p>
  </section>
</template>

<style scoped>
/* What is opened in a word lies on the night, too. */
.try { --page: var(--night); --ink: var(--chalk); --shade: #2a333c; --pencil: var(--dusk); }
h2 { margin-top: 14px; }
header { display: flex; align-items: baseline; gap: 12px; margin-top: 14px; }
header h2 { margin-top: 0; }
.rule { flex: 1; border-top: 1px solid var(--night-rule); align-self: center; }
.one { display: flex; align-items: baseline; gap: 10px; padding: 3px 0; }
.gap { flex: 1; }
.dusk { color: var(--dusk); } .glow { color: var(--glow); } .small { margin-top: 8px; font-size: 13px; }
.link { border-bottom-color: #5b6670; } .link:hover { background: var(--night); }
</style>
