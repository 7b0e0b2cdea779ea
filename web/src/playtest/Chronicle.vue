<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, nextTick, ref, watch } from 'vue'
import { clock } from './clock'
import type { Told } from './connection'

/** All that happened, in order, each with what caused it; an entry leads to the rule behind it. */
const props = defineProps<{ told: Told[] }>()
const FILTERS = ['all', 'changes', 'refused'] as const
const filter = useStorage<(typeof FILTERS)[number]>('chronicle-filter', 'all')
const list = ref<HTMLElement | null>(null)
const REFUSED = [
  'refused',
  'unmet',
  'not_allowed',
  'fault',
  'under_way',
  'wait_ended',
  'cooling',
  'passed_over',
  'talk_lapsed',
  'delivery_over',
]
const QUIET = ['near', 'away', 'crossed', 'hold_begun', 'hold_broken']
const shown = computed(() =>
  props.told.filter((t) =>
    filter.value === 'all' ? true : filter.value === 'refused' ? REFUSED.includes(t.what) : !QUIET.includes(t.what),
  ),
)

function leads(one: Told): { name: string; params: Record<string, string> } | null {
  const parts = one.origin.split('/')
  if (parts[0] === 'object') return { name: 'plan', params: { selected: parts[1] ?? '' } }
  if (parts[0] === 'kind') return { name: 'plan', params: { selected: one.subject } }
  if (parts[0] === 'quest')
    return { name: 'quests', params: { selected: parts[2] === 'stage' ? `${parts[1]}.${parts[3]}` : (parts[1] ?? '') } }
  if (parts[0] === 'conversation') return { name: 'dialogue', params: { selected: parts[3] ?? '' } }
  return null
}
watch(shown, () => void nextTick(() => list.value?.scrollTo({ top: list.value.scrollHeight })))
</script>

<template>
  <section class="chronicle" aria-label="Chronicle">
    <header>
      <h2>Chronicle</h2>
      <span class="rule" /><button
        v-for="one in FILTERS"
        :key="one"
        :class="{ here: filter === one }"
        @click="filter = one"
      >
        {{ one }}
      </button>
    </header>
    <ol ref="list">
      <li
        v-for="(one, i) in shown.slice(-120)"
        :key="i"
        :class="{ refused: REFUSED.includes(one.what) }"
        :data-told="one.what"
      >
        <span class="mono when">{{ clock(one.tick, true) }}</span><span class="what">{{ one.text }}</span>
        <router-link v-if="leads(one)" v-tooltip="`because: ${one.cause}`" class="origin" :to="leads(one)!">{{
          one.rule
        }}</router-link><span v-else v-tooltip="`because: ${one.cause}`" class="origin">{{ one.rule }}</span>
      </li>
      <li v-if="!shown.length" class="what">Nothing has happened yet.</li>
    </ol>
  </section>
</template>

<style scoped>
.chronicle {
  flex: none; height: 158px; border-top: 1px solid var(--night-rule); padding: 8px 20px 6px; display: flex;
  flex-direction: column; background: var(--night);
}
header { display: flex; align-items: baseline; gap: 12px; font-size: 13px; color: var(--dusk); }
header h2 { color: var(--chalk); }
header button.here { color: var(--chalk); font-weight: 650; }
.rule { flex: 1; border-top: 1px solid var(--night-rule); align-self: center; }
ol { list-style: none; margin: 2px 0 0; padding: 0; overflow: auto; flex: 1; }
li { display: flex; gap: 12px; line-height: 1.6; font-size: 13.5px; }
.when { color: var(--dusk); font-size: 12.5px; }
.what { flex: 1; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.refused .what { color: var(--glow); }
.origin { color: var(--dusk); text-decoration: none; white-space: nowrap; font-size: 13px; }
a.origin:hover { text-decoration: underline; color: var(--chalk); }
</style>
