<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, nextTick, watch } from 'vue'
import type { Gate } from '@/stores/proof'
import { counted } from '@/parts/plural'

/** The map of the gates: what becomes possible after what, round by round; choosing one shows what it waits for. */
const props = defineProps<{ gates: Gate[]; chosen: number; from: string }>()
const emit = defineEmits<{ choose: [gate: number] }>()
const SORTS: [sort: string, words: string][] = [
  ['area', 'areas'],
  ['object', 'objects'],
  ['item', 'items'],
  ['ability', 'abilities'],
  ['fact', 'facts'],
  ['quest', 'quests'],
  ['stage', 'stages'],
  ['objective', 'objectives'],
  ['line', 'lines'],
  ['ending', 'endings'],
]
const hidden = useStorage<string[]>('proof-map-hidden', ['objective', 'line'])
const there = computed(() => SORTS.filter(([sort]) => props.gates.some((g) => g.sort === sort)))
const shown = computed(() => props.gates.filter((g) => !hidden.value.includes(g.sort) || g.number === props.chosen))
const rounds = computed(() => {
  const found = new Map<number, Gate[]>()
  for (const gate of shown.value) found.set(gate.round, [...(found.get(gate.round) ?? []), gate])
  return [...found.entries()].sort(([a], [b]) => a - b)
})
const waitsFor = computed(() => new Set(props.gates.find((g) => g.number === props.chosen)?.after ?? []))
const opens = computed(() => new Set(props.gates.filter((g) => g.after.includes(props.chosen)).map((g) => g.number)))
function toggle(sort: string): void {
  hidden.value = hidden.value.includes(sort) ? hidden.value.filter((s) => s !== sort) : [...hidden.value, sort]
}
function lookOf(gate: Gate): string {
  if (gate.number === props.chosen) return 'chosen'
  if (waitsFor.value.has(gate.number)) return 'before'
  return opens.value.has(gate.number) ? 'after' : ''
}
function step(by: number): void {
  const at = shown.value.findIndex((g) => g.number === props.chosen)
  const next = shown.value[at < 0 ? 0 : at + by]
  if (next) emit('choose', next.number)
}
watch(
  () => props.chosen,
  async () => {
    await nextTick()
    document.querySelector('.map .chosen')?.scrollIntoView({ block: 'nearest' })
  },
)
defineExpose({ step })
</script>

<template>
  <div class="map">
    <p class="small quiet measure">
      <template v-if="from">As if <b>{{ from }}</b>: what is so there already is left out. </template>
      Each round is one more thing that the player does. What is used up, and what cannot be had together, is not
      counted here: so nothing comes earlier than it says, and some things later.
    </p>
    <p class="sorts small" aria-label="What the map shows">
      <button
        v-for="[sort, words] in there"
        :key="sort"
        class="link"
        :class="{ off: hidden.includes(sort) }"
        :aria-pressed="!hidden.includes(sort)"
        @click="toggle(sort)"
      >
        {{ words }}
      </button>
    </p>
    <section v-for="[round, gates] in rounds" :key="round" :data-round="round">
      <h2>
        {{ round ? `After ${counted(round, 'action')}` : 'On foot alone' }}
        <span class="quiet small">{{ gates.length }}</span>
      </h2>
      <div class="gates">
        <button
          v-for="gate in gates"
          :key="gate.number"
          class="gate"
          :class="lookOf(gate)"
          :aria-pressed="gate.number === chosen"
          :data-gate="gate.sort"
          @click="emit('choose', gate.number)"
        >
          {{ gate.says
          }}<span v-if="lookOf(gate) === 'before'" class="sign">waited for</span
          ><span v-else-if="lookOf(gate) === 'after'" class="sign">waits for it</span>
        </button>
      </div>
    </section>
  </div>
</template>

<style scoped>
.sorts { display: flex; flex-wrap: wrap; gap: 4px 14px; margin: 8px 0 2px; }
.sorts .off { color: var(--pencil); border-bottom-style: dotted; text-decoration: line-through; }
section { display: grid; grid-template-columns: 116px 1fr; gap: 14px; padding: 8px 0; border-top: 1px solid var(--rules); }
h2 { font-size: 13.5px; line-height: 1.5; padding-top: 2px; }
h2 .small { display: block; font-family: var(--text); font-weight: 400; }
.gates { display: flex; flex-wrap: wrap; gap: 4px 6px; align-content: flex-start; min-width: 0; }
.gate {
  padding: 1px 8px; border: 1px solid var(--rules); border-radius: 4px; background: var(--page); line-height: 1.5;
  overflow-wrap: anywhere; max-width: 100%;
}
.gate:hover { background: var(--shade); }
.chosen { border: 2px solid var(--ink); padding: 0 7px; font-weight: 650; }
.before, .after { border-color: var(--ink); }
.after { border-style: dashed; }
.sign { margin-left: 8px; font-size: 12px; color: var(--pencil); }
</style>
