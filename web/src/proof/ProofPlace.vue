<script setup lang="ts">
import { computed, nextTick, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { leadOf } from '@/page/leads'
import EditWord from '@/parts/EditWord.vue'
import { useKeys } from '@/parts/keys'
import { counted } from '@/parts/plural'
import Spread from '@/parts/Spread.vue'
import { useQuietly } from '@/page/quietly'
import WorkLine from '@/parts/WorkLine.vue'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import { useProof, type Remark, type Verdict } from '@/stores/proof'
import GateMap from './GateMap.vue'
import GatePage from './GatePage.vue'
import { useMapAsIf } from './mapAsIf'
import SupplyBars from './SupplyBars.vue'
import VerdictMark from './VerdictMark.vue'
import WayPage from './WayPage.vue'
import { addressOf, answerOf, ASKED, isGood, keyOf, lastOf, lengthOf, SECTIONS } from './words'

/** What the project is proved to be: a row for each quest, what comes out around them, and the map of the gates. */
const book = useBook()
const proof = useProof()
const route = useRoute()
const router = useRouter()
const { quietly } = useQuietly()
const live = useLive()
const map = ref<InstanceType<typeof GateMap> | null>(null)
const page = ref<InstanceType<typeof WayPage> | null>(null)
const COLUMNS = ['can', 'stuck', 'lost'] as const

const selected = computed(() => keyOf(String(route.params.selected ?? '')))
const asMap = computed(() => route.query.view === 'map')
const reading = computed(() => proof.reading)
const quests = computed(() => reading.value?.quests ?? [])
/** The quests of which something weighs, or is not decided; in a long list these can be shown alone. */
const weighing = computed(() =>
  quests.value.filter((q) => q.verdicts.some((v) => v.weight || v.answer === 'undecided')),
)
const alone = computed(() => route.query.only === '1' && weighing.value.length > 0)
const listed = computed(() => (alone.value ? weighing.value : quests.value))
const MANY = 8
const verdict = computed(() => proof.verdicts.get(selected.value))
const questName = computed(
  () => quests.value.find((q) => q.verdicts.some((v) => v.key === selected.value))?.name ?? '',
)
const remark = computed(() => reading.value?.remarks.find((r) => r.key === selected.value))
const { gates: gatesThere, work, because, again, point } = useMapAsIf(() => asMap.value)
/** From the *as if* point where one is chosen; else from the start, as the last proof has it. */
const gates = computed(() => (live.on ? (gatesThere.value ?? []) : (reading.value?.gates ?? [])))
const gate = computed(() => gates.value.find((g) => `gate/${g.number}` === selected.value))
const sections = computed(() =>
  SECTIONS.map((one) => ({ ...one, remarks: (reading.value?.remarks ?? []).filter((r) => r.sort === one.sort) })),
)
const known = computed(() => !!reading.value && (reading.value.proved_at > 0 || reading.value.remarks.length > 0))
/** Which state of the project is spoken of, and how the work stands. */
const asOf = computed(() => {
  const now = reading.value
  if (!now) return 'asking …'
  if (now.going) {
    const of = now.of > 1 ? ` · ${now.done.toLocaleString('en-GB')} of ${now.of.toLocaleString('en-GB')}` : ''
    return `${now.doing || 'Beginning'}${of} · ${Math.round(now.seconds)} s`
  }
  if (proof.behind) return proof.age
  const took = counted(Math.round(now.seconds), 'second')
  if (now.proved_at) return `edit ${now.proved_at.toLocaleString('en-GB')} · ${took}`
  return now.stopped ? 'stopped; nothing of it is kept' : 'not proved yet'
})
function of(quest: { verdicts: Verdict[] }, what: Verdict['what']): Verdict | undefined {
  return quest.verdicts.find((v) => v.what === what)
}
const beside = (quest: { verdicts: Verdict[] }): Verdict[] =>
  quest.verdicts.filter((v) => !COLUMNS.includes(v.what as never) && v.answer !== 'never')
const stale = (quest: { verdicts: Verdict[] }): boolean => quest.verdicts.every(proof.isStale)
function lookOf(one: Verdict): string {
  if (one.answer === 'coming') return 'quiet'
  return isGood(one) ? 'fine' : one.weight || one.answer === 'undecided' ? 'trouble' : ''
}
const toldOf = (one: Verdict): string => answerOf(one) + (proof.isStale(one) ? `, ${proof.age}` : '')
function noteOf(remarks: Remark[]): string {
  const open = remarks.filter((r) => r.answer === 'undecided').length
  return open ? `${remarks.length - open}, ${open} not decided` : String(remarks.length)
}
function choose(key: string): void {
  void router.replace({ name: 'proof', params: { ...route.params, selected: addressOf(key) }, query: route.query })
}
function go(record: number | null): void {
  const lead = record === null ? null : leadOf(book, record)
  if (lead) void router.push(lead)
}
function showAlone(only: boolean): void {
  void router.replace({ name: 'proof', params: route.params, query: { ...route.query, only: only ? '1' : undefined } })
}
function show(view: string): void {
  void router.replace({ name: 'proof', params: { ...route.params, selected: '' }, query: { ...route.query, view } })
}
function setBudget(text: string): void {
  const seconds = Number(text)
  if (Number.isFinite(seconds) && seconds >= 0) void quietly(proof.ask('again', seconds))
}
/** Everything that can be chosen, in the order of the page. */
const choices = computed(() => [
  ...listed.value.flatMap((q) => q.verdicts.map((v) => v.key)),
  ...sections.value.flatMap((s) => s.remarks.map((r) => r.key)),
])
function step(by: number): void {
  if (asMap.value) return map.value?.step(by)
  const at = choices.value.indexOf(selected.value)
  const next = choices.value[at < 0 ? 0 : at + by]
  if (next) choose(next)
}
watch(selected, async (key) => {
  await nextTick()
  document.querySelector(`[data-key="${CSS.escape(key)}"]`)?.scrollIntoView({ block: 'nearest' })
})
const KEYS: Record<string, () => void> = {
  j: () => step(1),
  k: () => step(-1),
  ArrowDown: () => step(1),
  ArrowUp: () => step(-1),
  p: () => void quietly(proof.ask('again')),
  v: () => page.value?.watchIt(),
}
useKeys({
  down: (event) => {
    const does = event.ctrlKey || event.altKey || event.metaKey ? undefined : KEYS[event.key]
    if (!does) return
    event.preventDefault()
    does()
  },
})
</script>

<template>
  <Spread>
    <template #left>
      <section class="proof">
        <header>
          <h1>{{ asMap ? 'What opens what' : 'Can it be played?' }}</h1>
          <span
            class="quiet small status"
            role="status"
            :class="{ trouble: proof.behind && !reading?.going }"
            >{{ asOf }}</span
          >
          <span class="gap" />
          <button v-if="reading?.going" class="link small" @click="quietly(proof.ask('stop'))">stop</button>
          <template v-else-if="quests.length">
            <button class="link small" @click="quietly(proof.ask('again'))">
              {{ known || reading?.stopped ? 'prove again' : 'prove now' }}
            </button>
            <span class="small quiet"
              >in at most
              <EditWord
                :text="`${reading?.budget_s ?? 600} s`"
                label="Seconds that a proof may take"
                kind="number"
                :value="String(reading?.budget_s ?? 600)"
                @change="setBudget"
            /></span>
          </template>
        </header>
        <p v-if="reading?.going" class="bar" aria-hidden="true">
          <span :style="{ width: reading.of ? `${(100 * reading.done) / reading.of}%` : '8%' }" />
        </p>
        <p v-if="quests.length" class="views small">
          <button class="link" :aria-pressed="!asMap" :class="{ on: !asMap }" @click="show('')">verdicts</button>
          <button class="link" :aria-pressed="asMap" :class="{ on: asMap }" @click="show('map')">
            what opens what
          </button>
        </p>
        <p v-for="one in reading?.problems ?? []" :key="one.code" class="trouble measure">
          ⚠ {{ one.message }} {{ one.fix }}
        </p>
        <p v-for="one in reading?.chasing ?? []" :key="one" class="trouble small measure">
          ⚠ Cues chase each other without end: {{ one }}
        </p>
        <p v-if="reading && !quests.length" class="empty measure">
          There is no quest yet. Of each quest it would be proved here whether it can be done, and whether somebody can
          get stuck in it or lose it for good, with the way there.
          <router-link class="link" :to="{ name: 'quests', params: { selected: '' } }">Make a quest</router-link>
        </p>
        <template v-else-if="asMap">
          <template v-if="live.on && !gatesThere">
            <p v-if="because" class="trouble measure">
              {{ because }} <button class="link" @click="again">Work it out</button>
            </p>
            <p v-else class="empty quiet">Working out what becomes possible as if {{ point }} …</p>
            <WorkLine :work="work" />
          </template>
          <p v-else-if="live.on && !gates.length" class="empty quiet">From there nothing more becomes possible.</p>
          <GateMap
            v-else-if="gates.length"
            ref="map"
            :from="point"
            :gates="gates"
            :chosen="gate?.number ?? -1"
            @choose="(n) => choose(`gate/${n}`)"
          />
          <p v-else class="empty quiet">The map is drawn when the project has been proved.</p>
        </template>
        <template v-else-if="quests.length">
          <p v-if="quests.length > MANY && weighing.length && weighing.length < quests.length" class="small quiet">
            {{ weighing.length }} of {{ counted(quests.length, 'quest') }} can go wrong or are not decided:
            <button class="link" :aria-pressed="alone" @click="showAlone(!alone)">
              {{ alone ? 'show all' : 'show these alone' }}
            </button>
          </p>
          <table class="verdicts">
            <thead>
              <tr>
                <th>Quest</th>
                <th>Can be done</th>
                <th>Can get stuck</th>
                <th>Can be lost</th>
                <th class="far">Shortest</th>
              </tr>
            </thead>
            <tbody>
              <tr
                v-for="quest in listed"
                :key="quest.id"
                :class="{ here: quest.verdicts.some((v) => v.key === selected), stale: stale(quest) }"
                :data-quest="quest.key"
              >
                <td>
                  <b :title="quest.name">{{ quest.name }}</b>
                  <span v-for="one in beside(quest)" :key="one.key" class="also small">
                    <button class="link" :data-key="one.key" @click="choose(one.key)">
                      {{ one.answer === 'undecided' ? `whether it ${ASKED[one.what]}: not decided` : ASKED[one.what] }}
                    </button>
                  </span>
                </td>
                <td v-for="what in COLUMNS" :key="what">
                  <button
                    v-if="of(quest, what)"
                    class="verdict"
                    :class="[lookOf(of(quest, what)!), { chosen: of(quest, what)!.key === selected }]"
                    :data-key="of(quest, what)!.key"
                    :aria-pressed="of(quest, what)!.key === selected"
                    :aria-label="`${quest.name} ${ASKED[what]}: ${toldOf(of(quest, what)!)}`"
                    @click="choose(of(quest, what)!.key)"
                  >
                    <VerdictMark :verdict="of(quest, what)!" />{{ answerOf(of(quest, what)!) }}
                  </button>
                  <span
                    v-if="of(quest, what) && proof.isStale(of(quest, what)!)"
                    class="small quiet"
                    :class="what !== 'can' && isGood(of(quest, what)!) ? 'also' : 'by'"
                    >{{ proof.age }}</span
                  >
                  <span v-if="what !== 'can' && of(quest, what)?.answer === 'yes'" class="small quiet by">{{
                    lastOf(of(quest, what)!.way)
                  }}</span>
                </td>
                <td class="far">
                  <span v-if="of(quest, 'can')?.answer === 'yes'">{{ lengthOf(of(quest, 'can')!.way) }}</span>
                </td>
              </tr>
            </tbody>
          </table>
          <template v-if="known">
            <section v-for="one in sections" :key="one.sort" :class="{ stale: proof.remarksStale }">
              <div class="heading">
                <h2>{{ one.title }}</h2>
                <span class="rule" /><span class="quiet small">{{ noteOf(one.remarks) }}</span>
              </div>
              <p v-if="!one.remarks.length" class="quiet small none">{{ reading?.going ? '…' : one.none }}</p>
              <ul>
                <li
                  v-for="told in one.remarks"
                  :key="told.key"
                  :class="{ chosen: told.key === selected }"
                  :data-key="told.key"
                  :data-sort="told.sort"
                >
                  <button :aria-pressed="told.key === selected" @click="choose(told.key)">
                    <b>{{ told.whose }}</b> {{ told.says }}
                  </button>
                  <span v-if="proof.remarksStale" class="small quiet far">{{ proof.age }}</span>
                  <span v-else-if="told.way.walked" class="small quiet far">{{ lengthOf(told.way) }}</span>
                </li>
              </ul>
            </section>
            <SupplyBars />
            <section v-if="reading?.left_out.length">
              <div class="heading">
                <h2>Left out</h2>
                <span class="rule" /><span class="quiet small">{{ reading.left_out.length }}</span>
              </div>
              <p class="quiet small none">What cannot be used was proved as if it were not there.</p>
              <ul>
                <li v-for="(one, i) in reading.left_out" :key="i" class="trouble">
                  <button @click="go(one.record)">
                    <b>{{ one.where }}</b
                    >: {{ one.says }}
                  </button>
                </li>
              </ul>
            </section>
          </template>
        </template>
      </section>
    </template>
    <GatePage v-if="gate" :from="point" :gate="gate" :gates="gates" @choose="(n) => choose(`gate/${n}`)" />
    <WayPage v-else-if="verdict || remark" ref="page" :quest="questName" :verdict="verdict" :remark="remark" />
    <div v-else class="quiet">
      <h1>{{ asMap ? 'The map of the gates' : 'Nothing chosen' }}</h1>
      <p v-if="asMap" class="measure">Choose something on the left to see what it waits for, and what waits for it.</p>
      <p v-else class="measure">
        Choose a verdict on the left, or press <span class="key">J</span>: its page shows the way there, which can be
        watched, and what would take it away.
      </p>
      <p class="keys small">
        <span><span class="key">J</span> next</span> <span><span class="key">K</span> one back</span>
        <span><span class="key">V</span> watch the way</span> <span><span class="key">P</span> prove again</span>
      </p>
    </div>
  </Spread>
</template>

<style scoped>
.proof { flex: 1; overflow: auto; padding: 18px 22px 30px 28px; }
header { display: flex; flex-wrap: wrap; align-items: baseline; gap: 4px 14px; }
.gap { flex: 1; }
.status { min-width: 0; overflow-wrap: anywhere; }
.bar { height: 3px; background: var(--rules); margin-top: 6px; }
.bar span { display: block; height: 3px; background: var(--ink); min-width: 3px; max-width: 100%; }
.views { display: flex; gap: 16px; margin: 2px 0 6px; }
.views .on { border-bottom-color: var(--ink); font-weight: 650; }
.verdicts { width: 100%; border-collapse: collapse; }
th { text-align: left; font-weight: 400; color: var(--pencil); font-size: 12.5px; padding: 4px 8px; }
thead tr { border-bottom: 1px solid var(--ink); }
tbody tr { border-bottom: 1px solid var(--rules); }
td { padding: 8px; vertical-align: top; line-height: 1.45; overflow-wrap: anywhere; }
th { white-space: nowrap; }
td:first-child { width: 27%; }
td:first-child b { display: -webkit-box; -webkit-box-orient: vertical; -webkit-line-clamp: 3; overflow: hidden; }
tr.here { background: var(--page); }
tr.here td:first-child { background: linear-gradient(var(--ink), var(--ink)) no-repeat 0 0 / 3px 100%; }
.far { text-align: right; white-space: nowrap; font-variant-numeric: tabular-nums; }
.verdict { display: inline-flex; gap: 7px; align-items: center; font-weight: 600; white-space: nowrap; }
.verdict.chosen { text-decoration: underline 2px var(--ink); text-underline-offset: 4px; }
.verdict:hover { background: var(--shade); }
.by, .also { display: block; }
.by { margin-left: 24px; }
.stale { font-style: italic; }
.stale .verdict { font-weight: 400; color: var(--pencil); }
.heading { display: flex; align-items: baseline; gap: 10px; margin-top: 16px; }
.rule { flex: 1; border-top: 1px solid var(--rules); align-self: center; }
ul { list-style: none; margin: 0; padding: 0; }
li {
  display: flex; gap: 12px; align-items: baseline; padding: 5px 8px; border-bottom: 1px solid var(--rules);
  border-left: 3px solid transparent; line-height: 1.45;
}
li button { flex: 1; min-width: 0; overflow-wrap: anywhere; }
li.chosen { background: var(--page); border-left-color: var(--ink); }
.none { padding: 2px 8px; }
.empty { margin-top: 20px; }
.keys { display: flex; flex-wrap: wrap; gap: 4px 18px; margin-top: 26px; }
</style>
