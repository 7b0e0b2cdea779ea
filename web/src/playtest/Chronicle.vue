<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import { clock } from './clock'
import type { Told } from './connection'

/** All that happened, in order, each with what caused it; an entry leads to the rule behind it. */
const props = defineProps<{ told: Told[] }>()
defineEmits<{ here: [one: Told]; export: [] }>()
const FILTERS = ['all', 'mine', 'changes', 'refused'] as const
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
const FITS: Record<(typeof FILTERS)[number], (one: Told) => boolean> = {
  all: () => true,
  mine: (one) => one.mine ?? false,
  changes: (one) => !QUIET.includes(one.what),
  refused: (one) => REFUSED.includes(one.what),
}
/** Words that are looked for in what happened, in its rule and in its cause. */
const wanted = ref('')
const shown = computed(() => {
  const words = wanted.value.toLowerCase().split(' ').filter(Boolean)
  const has = (one: Told): boolean => {
    const whole = `${one.text} ${one.rule} ${one.cause}`.toLowerCase()
    return words.every((word) => whole.includes(word))
  }
  return props.told.filter((one) => FITS[filter.value](one) && has(one))
})
/** The entry whose cause is unfolded. */
const open = shallowRef<Told | null>(null)
function unfold(one: Told): void {
  open.value = open.value === one ? null : one
}

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
      <input v-model="wanted" class="wanted" placeholder="words" aria-label="words in the chronicle" />
      <button
        v-if="told.length"
        v-tooltip="'All of it as a file: one event a line, as CloudEvents JSON'"
        class="link"
        @click="$emit('export')"
      >
        export
      </button>
    </header>
    <ol ref="list">
      <li
        v-for="(one, i) in shown.slice(-120)"
        :key="i"
        :class="{ refused: REFUSED.includes(one.what) }"
        :data-told="one.what"
      >
        <span class="mono when">{{ clock(one.tick, true) }}</span
        ><button class="what" :aria-expanded="open === one" @click="unfold(one)">
          {{ one.text }}<span v-if="open === one" class="because">because of {{ one.cause }}</span>
        </button>
        <button v-if="open === one" class="link here" @click="$emit('here', one)">start here</button>
        <router-link v-if="leads(one)" class="origin" :to="leads(one)!">{{ one.rule }}</router-link
        ><span v-else class="origin">{{ one.rule }}</span>
      </li>
      <li v-if="!shown.length" class="nothing">
        {{ told.length ? 'Nothing of that kind has happened.' : 'Nothing has happened yet.' }}
      </li>
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
.what { flex: 1; min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; text-align: left; }
.because { display: block; padding-left: 18px; color: var(--dusk); }
header .link { border-bottom-color: #5b6670; }
.link.here { align-self: flex-start; color: var(--chalk); border-bottom-color: #5b6670; white-space: nowrap; }
.wanted {
  width: 92px; padding: 0 2px; color: var(--chalk); background: none; border: 0;
  border-bottom: 1px solid var(--night-rule); outline-offset: 2px; font-size: 13px;
}
.wanted::placeholder { color: var(--dusk); opacity: 1; }
.nothing { color: var(--dusk); }
.refused .what { color: var(--glow); }
.origin { color: var(--dusk); text-decoration: none; white-space: nowrap; font-size: 13px; }
a.origin:hover { text-decoration: underline; color: var(--chalk); }
</style>
