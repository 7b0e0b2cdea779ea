<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, nextTick, ref, shallowRef, watch } from 'vue'
import BecauseLines from './BecauseLines.vue'
import { clock } from './clock'
import type { Because, Told } from './connection'

/** All that happened, in order, each with what caused it; an entry leads to the rule behind it. */
const props = defineProps<{
  told: Told[]
  because: ReadonlyMap<number, Because>
  names: (key: string) => string
  /** Objects and quests: what entries can be about. */
  abouts: ReadonlySet<string>
}>()
const emit = defineEmits<{ here: [one: Told]; export: []; ask: [number: number]; then: [one: Told]; back: [] }>()
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
const MOST = 120
const FITS: Record<(typeof FILTERS)[number], (one: Told) => boolean> = {
  all: () => true,
  mine: (one) => one.mine ?? false,
  changes: (one) => !QUIET.includes(one.what),
  refused: (one) => REFUSED.includes(one.what),
}
/** Words that are looked for in what happened, in its rule and in its cause. */
const wanted = ref('')
/** The object or quest whose entries are shown; all without one. */
const about = ref('')
const partsOf = (one: Told): string[] => [one.subject, ...one.origin.split('/')]
const known = computed(() => {
  const keys = new Set(props.told.flatMap(partsOf).filter((key) => props.abouts.has(key)))
  return [...keys].map((key) => ({ key, name: props.names(key) })).sort((a, b) => a.name.localeCompare(b.name))
})
const shown = computed(() => {
  const words = wanted.value.toLowerCase().split(' ').filter(Boolean)
  const has = (one: Told): boolean => {
    const whole = `${one.text} ${one.rule} ${one.cause}`.toLowerCase()
    return words.every((word) => whole.includes(word))
  }
  const isAbout = (one: Told): boolean => !about.value || partsOf(one).includes(about.value)
  return props.told.filter((one) => FITS[filter.value](one) && isAbout(one) && has(one))
})
/** The entry whose causes are unfolded. */
const open = shallowRef<Told | null>(null)
function unfold(one: Told): void {
  open.value = open.value?.n === one.n ? null : one
  if (open.value) emit('then', one)
  else emit('back')
}
/** Opens an entry, whatever is filtered, and brings it into sight. */
async function jump(number: number): Promise<void> {
  const one = props.told.find((t) => t.n === number)
  if (!one) return
  if (!shown.value.includes(one)) {
    filter.value = 'all'
    about.value = wanted.value = ''
  }
  open.value = one
  emit('then', one)
  await nextTick()
  list.value?.querySelector(`[data-n="${number}"]`)?.scrollIntoView({ block: 'nearest' })
}
function close(): void {
  open.value = null
}
defineExpose({ jump, close })

function leads(one: Told): { name: string; params: Record<string, string> } | null {
  const parts = one.origin.split('/')
  if (parts[0] === 'object') return { name: 'plan', params: { selected: parts[1] ?? '' } }
  if (parts[0] === 'kind') return { name: 'plan', params: { selected: one.subject } }
  if (parts[0] === 'quest')
    return { name: 'quests', params: { selected: parts[2] === 'stage' ? `${parts[1]}.${parts[3]}` : (parts[1] ?? '') } }
  if (parts[0] === 'conversation') return { name: 'dialogue', params: { selected: parts[3] ?? '' } }
  return null
}
watch(shown, () => void nextTick(() => !open.value && list.value?.scrollTo({ top: list.value.scrollHeight })))
watch(
  () => props.told,
  (now) => now.length || close(),
)
</script>

<template>
  <section class="chronicle" :class="{ tall: open }" aria-label="Chronicle">
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
      <select v-model="about" class="about" :class="{ here: about }" aria-label="Only what is about">
        <option value="">about anything</option>
        <option v-for="one in known" :key="one.key" :value="one.key">{{ one.name }}</option>
      </select>
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
        v-for="one in shown.slice(-MOST)"
        :key="one.n"
        :class="{ refused: REFUSED.includes(one.what), open: open?.n === one.n }"
        :data-told="one.what"
        :data-n="one.n"
      >
        <span class="mono when">{{ clock(one.tick, true) }}</span>
        <div class="what">
          <button :aria-expanded="open?.n === one.n" @click="unfold(one)">{{ one.text }}</button>
          <BecauseLines
            v-if="open?.n === one.n"
            :number="one.n"
            :because="because"
            :told="told"
            :depth="0"
            @ask="(n) => emit('ask', n)"
            @jump="jump"
          />
        </div>
        <button v-if="open?.n === one.n" class="link here" @click="$emit('here', one)">start here</button>
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
.chronicle.tall { height: 236px; }
header { display: flex; align-items: baseline; gap: 12px; font-size: 13px; color: var(--dusk); }
header h2 { color: var(--chalk); }
header button.here, .about.here { color: var(--chalk); font-weight: 650; }
.rule { flex: 1; border-top: 1px solid var(--night-rule); align-self: center; }
ol { list-style: none; margin: 2px -8px 0; padding: 0; overflow: hidden auto; flex: 1; }
ol > li { display: flex; gap: 12px; line-height: 1.6; font-size: 13.5px; padding: 0 8px; }
ol > li.open { background: var(--floor); border-radius: 4px; }
.when { color: var(--dusk); font-size: 12.5px; }
.what { flex: 1; min-width: 0; }
.what > button { max-width: 100%; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; text-align: left; }
header .link { border-bottom-color: #5b6670; }
.link.here { align-self: flex-start; color: var(--chalk); border-bottom-color: #5b6670; white-space: nowrap; }
.wanted, .about {
  width: 72px; padding: 0 2px; color: var(--chalk); background: none; border: 0;
  border-bottom: 1px solid var(--night-rule); outline-offset: 2px; font-size: 13px;
}
.about { width: 118px; color: var(--dusk); } .about option { background: var(--night); color: var(--chalk); }
.wanted::placeholder { color: var(--dusk); opacity: 1; }
.nothing { color: var(--dusk); }
.refused .what > button { color: var(--glow); }
.origin { color: var(--dusk); text-decoration: none; white-space: nowrap; font-size: 13px; }
a.origin:hover { text-decoration: underline; color: var(--chalk); }
</style>
