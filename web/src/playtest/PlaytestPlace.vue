<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter, type RouteLocationRaw } from 'vue-router'
import Problems from '@/parts/Problems.vue'
import { useKeys } from '@/parts/keys'
import type { Choice } from '@/parts/choices'
import type { RowOf } from '@/api/client'
import { leadOf } from '@/page/leads'
import { placed } from '@/plan/designs'
import { useBook } from '@/stores/book'
import { useCards } from '@/stores/cards'
import { useTried } from '@/stores/tried'
import { useWalks } from '@/stores/walks'
import { useQuietly } from '@/page/quietly'
import { useAsleep } from './asleep'
import { useBeginning } from './beginning'
import CardList from './CardList.vue'
import Chronicle from './Chronicle.vue'
import { clock } from './clock'
import { usePlaytest, type Told } from './connection'
import GameHud from './GameHud.vue'
import KeepWalk from './KeepWalk.vue'
import { useLookingBack } from './lookingBack'
import NightFloor from './NightFloor.vue'
import NightWays from './NightWays.vue'
import OfferCard from './OfferCard.vue'
import { useOffers } from './offers'
import PromptCard from './PromptCard.vue'
import QuestLog from './QuestLog.vue'
import RunList from './RunList.vue'
import { useStateWords } from './stateWords'
import TalkBox from './TalkBox.vue'
import TimeStrip from './TimeStrip.vue'
import { useTrying } from './trying'
import TryLeaf from './TryLeaf.vue'
import { useControls } from './controls'
import { useSounds } from './sounds'
import WalkList from './WalkList.vue'
import WhyLeaf from './WhyLeaf.vue'

const book = useBook()
const cards = useCards()
const walks = useWalks()
const tried = useTried()
const { quietly } = useQuietly()
const route = useRoute()
const router = useRouter()
const run = usePlaytest(book.project)
const beginning = useBeginning(run)
const back = useLookingBack(run)
const shown = back.shown
const reaches = useStorage('playtest-reaches', true)
const named = useStorage('playtest-names', true)
const heard = useStorage('playtest-sounds', true)
const zoom = useStorage('playtest-zoom', 1)
const asked = ref('')
const crowded = ref(false)
const corner = ref({ width: 0, height: 0 })
const floor = ref<HTMLElement | null>(null)
const { width, height } = useElementSize(floor)

const night = ref<InstanceType<typeof NightFloor> | null>(null)
const chronicle = ref<InstanceType<typeof Chronicle> | null>(null)
const level = computed(
  () => book.find('level', shown.level.value || (book.settings?.values.first_level ?? '')) ?? book.of('level')[0],
)
const focus = computed(() => run.picture.value?.prompts[0]?.object ?? '')
const lastFocus = ref('')
const subject = computed(() => asked.value || focus.value || lastFocus.value)
const trying = useTrying({ run, subject: () => subject.value })
/** Everything of the level as the run has it: where it lies now, copies too, which no record of the project is. */
const objects = computed(() =>
  Object.entries(shown.objects.value).map(([key, live]) => {
    const row = book.find('object', key)
    const [x_m, y_m, turn_deg] = live.at
    const bare = { ...COPY, name: live.name, kind: live.kind }
    const base: RowOf<'object'> = row ?? { ...NO_ROW, key, values: bare }
    return trying.tuned(placed({ ...base, values: { ...base.values, x_m, y_m, turn_deg } }, book.kinds))
  }),
)
const talk = computed(() => shown.picture.value?.talk ?? null)
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
const screenPrompts = computed(() => (shown.picture.value?.prompts ?? []).filter((p) => p.place === 'screen'))
/** Which leaf of the page is open; an address may name one. */
const leaf = useStorage<'why' | 'try' | 'cards'>('playtest-leaf', 'why')
const LEAVES = [
  { key: 'why', name: 'Why' },
  { key: 'try', name: 'Try values' },
  { key: 'cards', name: 'Walks and cards' },
] as const
for (const one of LEAVES) if (route.query.leaf === one.key) leaf.value = one.key
const cardList = ref<InstanceType<typeof CardList> | null>(null)
const words = useStateWords(run)
const offers = useOffers(run)
/** What is drawn of a kept walk that is watched: where it led, and where it leads now. */
const ways = computed(() => (beginning.walk.value ? walks.byKey.get(beginning.walk.value.key) : undefined))
/** Sight of what is asked about, as the engine sees it. */
const sight = computed(() => {
  const line = run.why.value?.key === subject.value && run.why.value.place.find((l) => l.text === 'Clear sight')
  return reaches.value && line ? { key: subject.value, clear: line.met } : null
})

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

/** Begins again from the same start; what was tried is tried no more. */
function again(): void {
  fresh()
  void beginning.begin()
}
function fresh(): void {
  trying.forget()
  const at = String(route.params.selected ?? '')
  lastFocus.value = book.find('object', at) ? at : ''
}
const ZOOMS = [0.4, 0.5, 0.65, 0.8, 1, 1.25, 1.6, 2, 2.6]
function zoomBy(by: number): void {
  const at = ZOOMS.findIndex((z) => z >= zoom.value)
  zoom.value = ZOOMS[Math.min(Math.max(at + by, 0), ZOOMS.length - 1)] ?? 1
}
const TOOLS: Record<string, () => void> = {
  F2: again,
  F3: () => run.send({ do: 'slower' }),
  F4: () => run.send({ do: 'faster' }),
  F6: () => run.send({ do: run.paused.value ? 'go' : 'pause' }),
  F7: () => run.send({ do: 'tick' }),
  F8: () => (reaches.value = !reaches.value),
  F9: () => run.send({ again_here: true }),
  F10: keepHere,
  l: () => (logOpen.value = !logOpen.value),
  k: () => run.send({ walk: true }),
  n: () => (named.value = !named.value),
  m: () => (heard.value = !heard.value),
  '+': () => zoomBy(1),
  '-': () => zoomBy(-1),
  '0': () => (zoom.value = 1),
}
/** Keeps where one stands as a start card, and what was done so far with it. */
function keepHere(): void {
  keep(`At ${focus.value ? book.name(focus.value) : (level.value?.values.name ?? '')}`, back.at.value ?? true)
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
watch(run.walked, (now) => now && (leaf.value = 'cards'))
/** What a walk is called until somebody says otherwise: the last that it came to. */
const walkName = computed(() => {
  const last = run.chronicle.value.filter((t) => ['stage', 'quest', 'ended', 'state'].includes(t.what)).pop()
  return (last?.text ?? `From ${beginning.words.value}`).slice(0, MOST_LETTERS)
})
function keepWalk(name: string, values: Record<string, unknown>): void {
  run.walked.value = null
  void quietly(walks.keep(values, name))
}
/** Where a run leads that is watched, or gone on with; where one came from stays known. */
function watchIt(query: Record<string, string | number>): void {
  const { from, leaf: open } = route.query
  const params = { ...route.params, selected: '' }
  void router.push({ name: 'playtest', params, query: { from, leaf: open, ...query } })
}
/** How many edits the project is on from what is walked, those of start cards and kept walks aside. */
const editsSince = computed(() => (run.edit.value ? book.editsSince(run.edit.value) : 0))
const logOpen = ref(false)
function decide(what: string): void {
  run.send({ input: { decide: what } })
}
/** Whether Escape closes anything, and what. */
const closing = computed<(() => void) | null>(() => {
  if (back.at.value !== null) return lookAtNow
  if (logOpen.value) return () => (logOpen.value = false)
  return offers.card.value ? offers.later : null
})
function lookAtNow(): void {
  back.back()
  chronicle.value?.close()
}
const controls = useControls({
  bindings: () => book.settings?.values.controls ?? [],
  talk: () => talk.value,
  decisions: () => offers.decisions.value,
  buttons: () => buttons.value,
  aim: (control) => (aiming.value.has(control) ? night.value?.aim() : undefined),
  mark: (control) => marked.value.get(control),
  send: (message) => {
    // Whoever plays on looks at now again.
    if (back.at.value !== null && 'input' in message) lookAtNow()
    run.send(message)
  },
  tools: () => (closing.value ? { ...TOOLS, Escape: closing.value } : TOOLS),
})

useAsleep(run)
useSounds({
  run,
  project: () => book.project,
  on: () => heard.value,
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
function ask(key: string): void {
  asked.value = key
  run.send({ why: key })
}
const ASKED = ['object', 'quest', 'objective', 'conversation', 'line', 'ability', 'item'] as const
/** Everything that one can ask about. */
function whyChoices(): Choice[] {
  return ASKED.flatMap((type) =>
    book.of(type).map((row) => ({ value: row.key, label: book.name(row.key), detail: type === 'object' ? '' : type })),
  )
}
const abouts = computed(() => new Set([...book.of('object'), ...book.of('quest')].map((row) => row.key)))
/** One and the same function: what takes it is not drawn anew with every picture. */
const nameOf = (key: string): string => book.name(key)
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
  if (back.at.value !== null) lookAtNow()
  if (!book.settings?.values.controls.some((c) => c.mouse.includes('left'))) run.send({ input: { walk_to: [x, y] } })
}
onMounted(async () => {
  polling = requestAnimationFrame(poll)
  fresh()
  void beginning.beginOrGoOn()
  await nextTick()
  floor.value?.focus()
})
onUnmounted(() => {
  beginning.leave()
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
          v-if="level && shown.picture.value"
          ref="night"
          :key="level.id"
          :abilities="book.of('ability')"
          :exits="book.of('exit', level.id)"
          :corner="corner"
          :eye="trying.camera.value"
          :zoom="zoom"
          :named="named"
          :sight="sight"
          :level="level"
          :areas="book.of('area', level.id)"
          :walls="book.of('wall', level.id)"
          :objects="objects"
          :run="shown"
          :reaches="reaches"
          :entries="marked"
          @mark="(key) => (markedLast = key)"
          @crowded="(now) => (crowded = now)"
          @walk="walk"
          @choose="choose"
          @mouse="(button, pressed) => controls.mouse(button, pressed)"
          @wheel="zoomBy"
          @ask="ask"
        >
          <template #over="{ scale }">
            <NightWays
              v-if="ways && ways.same === false"
              :level="level.key"
              :scale="scale"
              :was="ways.way_was"
              :now="ways.way_now"
              :parting="ways.parting"
            />
          </template>
        </NightFloor>
        <div v-else-if="run.state.value === 'starting'" class="waiting" role="status">
          <p>Lights down …</p>
          <v-progress-linear
            :model-value="words.startedShare.value"
            :indeterminate="!words.startedShare.value"
            aria-label="How far the start has come"
          />
          <p v-if="run.starting.value">{{ words.starting.value }}</p>
          <router-link class="link" :to="`/p/${book.project}/plan`">not now, back to the plan</router-link>
        </div>
        <GameHud
          v-if="shown.hud.value"
          :aside="crowded"
          :lower="back.at.value !== null || run.watched.value"
          :hud="shown.hud.value"
          :told="run.chronicle.value"
          :tick="shown.picture.value?.tick ?? 0"
          :pace="words.pace.value"
          :put-off="[...offers.putOff.value].map((key) => book.name(key))"
          @offers="offers.putOff.value = new Set()"
          @corner="(size) => (corner = size)"
        />
        <QuestLog
          v-if="logOpen && run.hud.value"
          :hud="run.hud.value"
          :told="run.chronicle.value"
          @give-up="(key) => decide(`give up:${key}`)"
          @close="logOpen = false"
        />
        <div v-if="offers.card.value" class="card">
          <OfferCard
            :key="offers.card.value.key"
            :card="offers.card.value"
            :number="offers.open.value.indexOf(offers.card.value) + 1"
            :of="offers.open.value.length"
            @accept="decide(`start:${offers.card.value.key}`)"
            @decline="decide(`decline:${offers.card.value.key}`)"
            @turn="offers.turn"
            @later="offers.later"
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
        <p v-if="back.at.value !== null" class="then" role="status">
          <b>As it was at {{ clock(back.at.value, true) }}</b>
          <button class="link" @click="lookAtNow"><span class="key">Esc</span> back to now</button>
        </p>
        <p v-else-if="run.watched.value" class="then" role="status">
          <b>{{ run.watchedAll.value ? 'Watched to its end' : 'Watched' }}: {{ beginning.words.value }}</b>
          <button class="link" @click="TOOLS.F9?.()"><span class="key">F9</span> walk on from here</button>
        </p>
        <div v-if="shown.hud.value?.ended" class="ended" role="status">
          <h1>{{ shown.hud.value.ended === 'won' ? 'The level is won' : 'The level is lost' }}</h1>
          <p><span class="key">F2</span> again, from the same start</p>
        </div>
        <p v-if="words.state.value" class="lost" role="status">{{ words.state.value }}</p>
      </div>
      <TimeStrip
        v-if="run.picture.value"
        :told="run.chronicle.value"
        :now="run.picture.value.tick"
        :at="back.at.value"
        :parts="ways?.parting?.now?.tick ?? null"
        @then="back.look"
      />
      <Chronicle
        ref="chronicle"
        :told="run.chronicle.value"
        :because="run.because.value"
        :names="nameOf"
        :abouts="abouts"
        @here="keepThen"
        @then="(one) => back.look(one.tick)"
        @back="lookAtNow"
        @ask="(number) => run.send({ because: number })"
        @export="run.send({ export: true })"
      />
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
        <button
          v-for="one in LEAVES"
          :key="one.key"
          :class="{ here: leaf === one.key }"
          :aria-pressed="leaf === one.key"
          @click="leaf = one.key"
        >
          {{ one.name }}
          <span v-if="one.key === 'try' && tried.all.length" class="count">{{ tried.all.length }}</span>
          <span v-if="one.key === 'cards' && walks.parted" class="count" :aria-label="`${walks.parted} part ways`">{{
            walks.parted
          }}</span>
        </button>
      </nav>
      <template v-if="leaf === 'cards'">
        <KeepWalk
          v-if="run.walked.value"
          :walk="run.walked.value"
          :name="walkName"
          @keep="keepWalk"
          @close="run.walked.value = null"
        />
        <WalkList
          :watching="beginning.walk.value?.key ?? ''"
          @keep="run.send({ walk: true })"
          @watch="(key, at) => watchIt(at === null ? { watch: key } : { watch: key, at })"
        />
        <CardList ref="cardList" :begun="beginning.card.value?.key ?? ''" @here="keepHere" />
        <RunList
          :now="run.run.value"
          @go="(number) => watchIt({ resume: number })"
          @watch="(number) => watchIt({ run: number })"
        />
      </template>
      <TryLeaf
        v-else-if="leaf === 'try'"
        :groups="trying.groups.value"
        :applied="trying.applied.value"
        @try="trying.tryOut"
      />
      <WhyLeaf
        v-else
        :why="run.why.value"
        :subject="subject"
        :pinned="asked !== ''"
        :choices="whyChoices"
        @ask="ask"
        @free="asked = ''"
        @jump="(entry) => chronicle?.jump(entry)"
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
          from <b>{{ run.fromHere.value ? 'where you stood' : beginning.words.value }}</b
          ><template v-if="route.params.selected && !run.fromHere.value">
            at {{ book.name(String(route.params.selected)) }}</template
          >
        </p>
        <p class="tools">
          <button @click="again"><span class="key">F2</span> again</button
          ><button @click="TOOLS.F3?.()"><span class="key">F3</span> slower</button
          ><button @click="TOOLS.F4?.()"><span class="key">F4</span> faster</button
          ><button @click="TOOLS.F6?.()"><span class="key">F6</span> {{ run.paused.value ? 'go on' : 'pause' }}</button
          ><button @click="TOOLS.F7?.()"><span class="key">F7</span> one tick</button
          ><button @click="TOOLS.F8?.()"><span class="key">F8</span> reaches</button
          ><button @click="TOOLS.F9?.()"><span class="key">F9</span> again from here</button
          ><button @click="keepHere"><span class="key">F10</span> keep this spot</button
          ><button @click="TOOLS.k?.()"><span class="key">K</span> keep this walk</button
          ><button :aria-pressed="named" @click="named = !named"><span class="key">N</span> names</button
          ><button :aria-pressed="heard" @click="heard = !heard">
            <span class="key">M</span> sounds {{ heard ? 'on' : 'off' }}</button
          ><button @click="zoomBy(1)"><span class="key">+</span> nearer</button
          ><button @click="zoomBy(-1)"><span class="key">−</span> farther</button>
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
.then {
  position: absolute; top: 14px; left: 20px; z-index: 5; display: flex; gap: 14px; background: #0e1216;
  border: 1px solid var(--night-rule); padding: 6px 14px; border-radius: 6px; max-width: calc(100% - 40px);
}
.then b { min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.then .link { border-bottom-color: #5b6670; white-space: nowrap; }
.count {
  display: inline-block; min-width: 18px; padding: 0 5px; border-radius: 9px; background: var(--glow); color: #14191e;
  font-size: 12px; font-weight: 650; text-align: center; line-height: 18px;
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
