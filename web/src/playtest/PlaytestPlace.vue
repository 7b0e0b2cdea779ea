<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, type RouteLocationRaw } from 'vue-router'
import Problems from '@/parts/Problems.vue'
import { useKeys } from '@/parts/keys'
import type { RowOf } from '@/api/client'
import { leadOf } from '@/page/leads'
import { placed } from '@/plan/designs'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import { useCards } from '@/stores/cards'
import { useQuietly } from '@/page/quietly'
import CardList from './CardList.vue'
import Chronicle from './Chronicle.vue'
import { usePlaytest, type Told } from './connection'
import GameHud from './GameHud.vue'
import NightFloor from './NightFloor.vue'
import OfferCard from './OfferCard.vue'
import PromptCard from './PromptCard.vue'
import QuestLog from './QuestLog.vue'
import TalkBox from './TalkBox.vue'
import { useControls } from './controls'
import { useSounds } from './sounds'
import WhyLeaf from './WhyLeaf.vue'

const book = useBook()
const live = useLive()
const cards = useCards()
const { quietly } = useQuietly()
const route = useRoute()
const run = usePlaytest(book.project)
const reaches = useStorage('playtest-reaches', true)
const asked = ref('')
const crowded = ref(false)
const floor = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(floor)

const night = ref<InstanceType<typeof NightFloor> | null>(null)
const level = computed(
  () => book.find('level', run.level.value || (book.settings?.values.first_level ?? '')) ?? book.of('level')[0],
)
const camera = computed(() => book.settings?.values.camera)
/** Everything of the level as the run has it: where it lies now, copies too, which no record of the project is. */
const objects = computed(() =>
  Object.entries(run.objects.value).map(([key, live]) => {
    const row = book.find('object', key)
    const [x_m, y_m, turn_deg] = live.at
    const bare = { ...COPY, name: live.name, kind: live.kind }
    const base: RowOf<'object'> = row ?? { ...NO_ROW, key, values: bare }
    return placed({ ...base, values: { ...base.values, x_m, y_m, turn_deg } }, book.kinds)
  }),
)
const talk = computed(() => run.picture.value?.talk ?? null)
const buttons = computed(() => (run.picture.value?.prompts ?? []).flatMap((p) => p.buttons))
const markedLast = ref('')
/** The marked entry of each panel on the screen: the one pointed at or focused last, else its first. */
const marked = computed(() => {
  const panels = (run.picture.value?.prompts ?? []).filter((p) => p.buttons.length)
  return new Map(
    panels.map((p) => [p.control, (p.buttons.find((b) => b.key === markedLast.value) ?? p.buttons[0])?.key ?? '']),
  )
})
const aiming = computed(() => new Set(book.of('ability').map((a) => a.values.control)))
const screenPrompts = computed(() => (run.picture.value?.prompts ?? []).filter((p) => p.place === 'screen'))
const focus = computed(() => run.picture.value?.prompts[0]?.object ?? '')
const subject = computed(() => asked.value || focus.value || lastFocus.value)
const lastFocus = ref('')
/** The start card that the walk begins from. */
const startCard = computed(() => book.find('card', String(route.query.card ?? '')))
const startWords = computed(() => startCard.value?.values.name ?? (live.on ? live.reading?.point : 'the start'))
/** Which leaf of the page is open; an address may name one. */
const leaf = useStorage<'why' | 'cards'>('playtest-leaf', 'why')
if (route.query.leaf === 'cards' || route.query.leaf === 'why') leaf.value = route.query.leaf
const cardList = ref<InstanceType<typeof CardList> | null>(null)
const stateWords = computed(() => {
  const why = run.problems.value[0]
  return {
    starting: '',
    going: '',
    behind: `The run is behind: nothing new for ${run.silentS.value} s.`,
    lost: 'The connection is lost; the run is taken up again as soon as it is back.',
    'catching up': 'The run is catching up with what was done so far …',
    ended: `The run has ended. ${why ? `${why.message} ${why.fix}` : 'F2 begins it again.'}`,
  }[run.state.value]
})
const startedShare = computed(() => {
  const { done = 0, of = 0 } = run.starting.value ?? {}
  return of > 1 ? (100 * done) / of : 0
})
const startingWords = computed(() => {
  const { what = '', done = 0, of = 0 } = run.starting.value ?? {}
  return of > 1 ? `${what}: ${done.toLocaleString('en-GB')} of ${of.toLocaleString('en-GB')} objects` : what
})
const paceWords = computed(() =>
  run.paused.value ? 'paused' : run.pace.value === 1 ? '' : `${run.pace.value} × speed`,
)

/** So long a name is at the most. */
const MOST_LETTERS = 100
const NO_ROW = { id: 0, type: 'object', owner: null, order: 0, version: 0, design: null } as const
const COPY: RowOf<'object'>['values'] = {
  name: '',
  kind: '',
  x_m: 0,
  y_m: 0,
  turn_deg: 0,
  own: {},
  round: [],
  there_at_start: false,
  cues_off: [],
  carried: {},
}

let left = false
/** Begins a run of the project as it is shown: what is still being kept comes first. */
async function begin(): Promise<void> {
  await book.settled()
  if (left) return
  const [quest = '', stage = ''] = live.asked.split('.')
  const at = String(route.params.selected ?? '')
  lastFocus.value = book.find('object', at) ? at : ''
  if (startCard.value) return run.begin({ card: startCard.value.key })
  run.begin({ quest, stage, changes: live.changes, at, level: String(route.query.level ?? '') })
}
const TOOLS: Record<string, () => void> = {
  F2: () => void begin(),
  F3: () => run.send({ do: 'slower' }),
  F4: () => run.send({ do: 'faster' }),
  F6: () => run.send({ do: run.paused.value ? 'go' : 'pause' }),
  F7: () => run.send({ do: 'tick' }),
  F8: () => (reaches.value = !reaches.value),
  F9: () => run.send({ again_here: true }),
  F10: keepHere,
  l: () => (logOpen.value = !logOpen.value),
}
/** Keeps where one stands as a start card, and what was done so far with it. */
function keepHere(): void {
  keep(`At ${focus.value ? book.name(focus.value) : (level.value?.values.name ?? '')}`, true)
}
/** Keeps what the run had come to when something had happened. */
function keepThen(one: Told): void {
  keep(`After: ${one.text}`, one.tick)
}
/** Hands the chronicle over as a file. */
watch(run.exported, (lines) => {
  const link = document.createElement('a')
  link.href = URL.createObjectURL(new Blob([lines], { type: 'application/x-ndjson' }))
  link.download = `${book.settings?.key ?? 'walk'}-chronicle.ndjson`
  link.click()
  URL.revokeObjectURL(link.href)
})
let called = ''
function keep(name: string, moment: number | true): void {
  leaf.value = 'cards'
  called = name.slice(0, MOST_LETTERS)
  run.send({ moment })
}
watch(run.moment, (values) => {
  if (values) void quietly(cards.keep(values, called).then((kept) => cardList.value?.show(kept)))
})
/** How many edits the project is on from what is walked, those of start cards aside. */
const editsSince = computed(() => (run.edit.value ? book.editsSince(run.edit.value) : 0))
/** What is offered and was not put off, and which of several lies on top. */
const logOpen = ref(false)
const putOff = ref(new Set<string>())
const turned = ref(0)
const offers = computed(() => run.hud.value?.offers ?? [])
const open = computed(() => (talk.value ? [] : offers.value.filter((o) => !putOff.value.has(o.key))))
const card = computed(() => open.value[Math.min(turned.value, open.value.length - 1)])
const decisions = computed(() => {
  const one = card.value
  return one ? [`start:${one.key}`, ...(one.declined === 'no' ? [] : [`decline:${one.key}`])] : []
})
function decide(what: string): void {
  run.send({ input: { decide: what } })
}
function later(): void {
  if (logOpen.value) logOpen.value = false
  else if (card.value) putOff.value = new Set([...putOff.value, card.value.key])
}
/** What is offered anew lies open again. */
watch(offers, (now) => {
  const keys = new Set(now.map((o) => o.key))
  putOff.value = new Set([...putOff.value].filter((key) => keys.has(key)))
})
const controls = useControls({
  bindings: () => book.settings?.values.controls ?? [],
  talk: () => talk.value,
  decisions: () => decisions.value,
  buttons: () => buttons.value,
  aim: (control) => (aiming.value.has(control) ? night.value?.aim() : undefined),
  mark: (control) => marked.value.get(control),
  send: run.send,
  tools: () => (card.value || logOpen.value ? { ...TOOLS, Escape: later } : TOOLS),
})

useSounds({
  run,
  project: () => book.project,
  sound: (key) => book.find('sound', key),
  place: (key) => {
    const row = book.find('object', key)
    return row ? { x: row.values.x_m, y: row.values.y_m } : undefined
  },
})

useKeys({ down: controls.down, up: controls.up, blur: controls.release })

let lastAsked = 0
watch(run.picture, (picture) => {
  if (focus.value) lastFocus.value = focus.value
  if (picture && subject.value && picture.tick - lastAsked >= 6) {
    lastAsked = picture.tick
    run.send({ why: subject.value })
  }
  if (picture && picture.tick < lastAsked) lastAsked = 0
})
let polling = 0
function poll(): void {
  controls.pad(navigator.getGamepads())
  polling = requestAnimationFrame(poll)
}
/** The thing that a problem lies in: its name and its page. */
function whereOf(path: string): { name: string; to: RouteLocationRaw | null } {
  const row = book.byKey.get(path.split('/')[1] ?? '')
  return row ? { name: book.name(row.key), to: leadOf(book, row.id) } : { name: '', to: null }
}
function choose(key: string): void {
  run.send({ input: { choose: key } })
}
function walk(x: number, y: number): void {
  if (!book.settings?.values.controls.some((c) => c.mouse.includes('left'))) run.send({ input: { walk_to: [x, y] } })
}
onMounted(async () => {
  polling = requestAnimationFrame(poll)
  void begin()
  await nextTick()
  floor.value?.focus()
})
watch(
  () => route.query.card,
  (now) => now && void begin(),
)
onUnmounted(() => {
  left = true
  cancelAnimationFrame(polling)
  controls.release()
})
</script>

<template>
  <div class="playtest">
    <div class="stage">
      <div
        ref="floor"
        class="floor"
        tabindex="0"
        role="application"
        aria-label="The level, walked with W A S D or by clicking the floor"
      >
        <NightFloor
          v-if="level && run.picture.value"
          ref="night"
          :key="level.id"
          :abilities="book.of('ability')"
          :exits="book.of('exit', level.id)"
          :view-m="camera?.view_m ?? 26"
          :ahead-m="camera?.look_ahead_m ?? 1.5"
          :inside="camera?.inside_area ?? true"
          :level="level"
          :areas="book.of('area', level.id)"
          :walls="book.of('wall', level.id)"
          :objects="objects"
          :run="run"
          :reaches="reaches"
          :entries="marked"
          @mark="(key) => (markedLast = key)"
          @crowded="(now) => (crowded = now)"
          @walk="walk"
          @choose="choose"
          @mouse="(button, pressed) => controls.mouse(button, pressed)"
          @ask="(key) => ((asked = key), run.send({ why: key }))"
        />
        <div v-else-if="run.state.value === 'starting'" class="waiting" role="status">
          <p>Lights down …</p>
          <v-progress-linear
            :model-value="startedShare"
            :indeterminate="!startedShare"
            aria-label="How far the start has come"
          />
          <p v-if="run.starting.value">{{ startingWords }}</p>
          <router-link class="link" :to="`/p/${book.project}/plan`">not now, back to the plan</router-link>
        </div>
        <GameHud
          v-if="run.hud.value"
          :aside="crowded"
          :hud="run.hud.value"
          :told="run.chronicle.value"
          :tick="run.picture.value?.tick ?? 0"
          :pace="paceWords"
          :put-off="[...putOff].map((key) => book.name(key))"
          @offers="putOff = new Set()"
        />
        <QuestLog
          v-if="logOpen && run.hud.value"
          :hud="run.hud.value"
          :told="run.chronicle.value"
          @give-up="(key) => decide(`give up:${key}`)"
          @close="logOpen = false"
        />
        <div v-if="card" class="card">
          <OfferCard
            :key="card.key"
            :card="card"
            :number="open.indexOf(card) + 1"
            :of="open.length"
            @accept="decide(`start:${card.key}`)"
            @decline="decide(`decline:${card.key}`)"
            @turn="(by) => (turned = (open.indexOf(card!) + by + open.length) % open.length)"
            @later="later"
          />
        </div>
        <TransitionGroup name="prompt">
          <PromptCard
            v-for="p in screenPrompts"
            :key="`${p.control}${p.object}`"
            :fixed="{ x: Math.min(Math.max(p.screen[0] * width, 120), width - 120), y: p.screen[1] * height }"
            :prompt="p"
            :marked="marked.get(p.control) ?? ''"
            @choose="choose"
            @mark="(key) => (markedLast = key)"
          />
        </TransitionGroup>
        <div v-if="talk" class="talk">
          <TalkBox
            :talk="talk"
            @choose="(key) => run.send({ input: { choose: key } })"
            @skip="run.send({ input: { skip: true } })"
          />
        </div>
        <div v-if="run.hud.value?.ended" class="ended" role="status">
          <h1>{{ run.hud.value.ended === 'won' ? 'The level is won' : 'The level is lost' }}</h1>
          <p><span class="key">F2</span> again, from the same start</p>
        </div>
        <p v-if="stateWords" class="lost" role="status">{{ stateWords }}</p>
      </div>
      <Chronicle :told="run.chronicle.value" @here="keepThen" @export="run.send({ export: true })" />
    </div>
    <aside class="page">
      <Problems :problems="run.problems.value" />
      <p v-if="editsSince" class="news" role="status">
        {{ editsSince === 1 ? 'One edit' : `${editsSince} edits` }} since this run began; it goes on as it was.
        <button class="link" @click="TOOLS.F9?.()">
          <span class="key">F9</span> begin again here with what is new
        </button>
      </p>
      <p v-if="run.leftOut.value.length" class="news" role="status">
        Begun again here. Left out: {{ run.leftOut.value.join('; ') }}.
      </p>
      <nav class="leaves" aria-label="Leaves">
        <button :class="{ here: leaf === 'why' }" :aria-pressed="leaf === 'why'" @click="leaf = 'why'">Why</button>
        <button :class="{ here: leaf === 'cards' }" :aria-pressed="leaf === 'cards'" @click="leaf = 'cards'">
          Cards <span v-if="cards.all.length" class="dusk">{{ cards.all.length }}</span>
        </button>
      </nav>
      <CardList v-if="leaf === 'cards'" ref="cardList" :begun="startCard?.key ?? ''" @here="keepHere" />
      <WhyLeaf
        v-else
        :why="run.why.value"
        :subject="subject"
        :pinned="asked !== ''"
        :names="(k) => book.name(k)"
        @ask="(key) => ((asked = key), run.send({ why: key }))"
        @free="asked = ''"
      />
      <section v-if="run.wrong.value.length" class="wrong" aria-label="What cannot run">
        <h2>Cannot run</h2>
        <p v-for="one in run.wrong.value.slice(0, 8)" :key="one.path + one.message">
          <router-link v-if="whereOf(one.path).to" class="link" :to="whereOf(one.path).to!">{{
            whereOf(one.path).name
          }}</router-link>
          {{ one.message.split('\n')[0] }} <span class="dusk">{{ one.fix }}</span>
        </p>
        <p v-if="run.wrong.value.length > 8" class="dusk">and {{ run.wrong.value.length - 8 }} more</p>
      </section>
      <section class="start">
        <h2>Start</h2>
        <p>
          from <b>{{ run.fromHere.value ? 'where you stood' : startWords }}</b
          ><template v-if="route.params.selected && !run.fromHere.value">
            at {{ book.name(String(route.params.selected)) }}</template
          >
        </p>
        <p class="tools">
          <button @click="begin"><span class="key">F2</span> again</button
          ><button @click="TOOLS.F3?.()"><span class="key">F3</span> slower</button
          ><button @click="TOOLS.F4?.()"><span class="key">F4</span> faster</button
          ><button @click="TOOLS.F6?.()"><span class="key">F6</span> {{ run.paused.value ? 'go on' : 'pause' }}</button
          ><button @click="TOOLS.F7?.()"><span class="key">F7</span> one tick</button
          ><button @click="TOOLS.F8?.()"><span class="key">F8</span> reaches</button
          ><button @click="TOOLS.F9?.()"><span class="key">F9</span> again from here</button
          ><button @click="keepHere"><span class="key">F10</span> keep this spot</button>
        </p>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.card { position: absolute; right: 20px; top: 120px; width: 440px; max-width: 60%; z-index: 4; }
.playtest { flex: 1; display: flex; min-width: 0; background: var(--night); color: var(--chalk); }
.stage { flex: 1; min-width: 0; display: flex; flex-direction: column; }
.floor { position: relative; flex: 1; min-height: 0; overflow: hidden; outline: none; display: flex; }
.floor:focus-visible { outline: none; }
.floor:focus-visible::after {
  content: ''; position: absolute; inset: 0; border: 1px solid #6b5a33; pointer-events: none;
}
.waiting { margin: auto; color: var(--dusk); }
.page {
  width: 406px; flex: none; overflow: auto; background: var(--floor); border-left: 1px solid var(--night-rule);
  padding: 20px 22px;
}
.talk { position: absolute; left: 50%; bottom: 84px; transform: translateX(-50%); width: min(560px, 84%); }
.ended {
  position: absolute; left: 50%; top: 34%; transform: translateX(-50%); text-align: center; background: #0e1216;
  border: 1px solid var(--glow); border-radius: 10px; padding: 18px 40px;
}
.lost {
  position: absolute; top: 12px; left: 50%; transform: translateX(-50%); background: #0e1216;
  border: 1px solid var(--glow); padding: 4px 14px; border-radius: 6px;
}
.wrong h2 { margin-top: 22px; border-bottom: 1px solid var(--night-rule); color: var(--glow); }
.wrong .link { border-bottom-color: #5b6670; }
.wrong .link:hover { background: var(--night); }
.dusk { color: var(--dusk); }
.news { border-left: 2px solid var(--glow); padding-left: 12px; margin-bottom: 16px; }
.news .link { border-bottom-color: #5b6670; }
.news .link:hover { background: var(--night); }
.leaves { display: flex; gap: 18px; margin-bottom: 12px; }
.leaves button { padding-bottom: 2px; border-bottom: 3px solid transparent; color: var(--dusk); }
.leaves .here { color: var(--chalk); font-weight: 650; border-bottom-color: var(--chalk); }
.start h2 { margin-top: 22px; border-bottom: 1px solid var(--night-rule); }
.tools { display: flex; flex-wrap: wrap; gap: 4px 14px; margin-top: 4px; color: var(--dusk); font-size: 13px; }
.tools .key { color: var(--chalk); }
</style>
