<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import { useKeys } from '@/parts/keys'
import type { RowOf } from '@/api/client'
import { placed } from '@/plan/designs'
import { useBook } from '@/stores/book'
import { useWalks } from '@/stores/walks'
import { useAsleep } from './asleep'
import { useBeginning } from './beginning'
import Chronicle from './Chronicle.vue'
import { clock } from './clock'
import { usePlaytest } from './connection'
import GameHud from './GameHud.vue'
import { useKeeping } from './keeping'
import { isLeaf, type Leaf } from './leaves'
import { useLookingBack } from './lookingBack'
import NightFloor from './NightFloor.vue'
import NightWays from './NightWays.vue'
import OfferCard from './OfferCard.vue'
import PlaytestPage from './PlaytestPage.vue'
import { useOffers } from './offers'
import PromptCard from './PromptCard.vue'
import QuestLog from './QuestLog.vue'
import { useStateWords } from './stateWords'
import TalkBox from './TalkBox.vue'
import TimeStrip from './TimeStrip.vue'
import { useTrying } from './trying'
import { useControls } from './controls'
import { useSounds } from './sounds'

const book = useBook()
const walks = useWalks()
const route = useRoute()
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
const pointed = ref('')
/** What *why* is about: what was asked for, else what is under the pointer, else what has the focus or had it last. */
const subject = computed(() => asked.value || pointed.value || focus.value || lastFocus.value)
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
const leaf = useStorage<Leaf>('playtest-leaf', 'why')
if (isLeaf(route.query.leaf)) leaf.value = route.query.leaf
const words = useStateWords(run)
const offers = useOffers(run)
/** What is drawn of a kept walk that is watched: where it led, and where it leads now. */
const ways = computed(() => (beginning.walk.value ? walks.byKey.get(beginning.walk.value.key) : undefined))
/** Sight of what is asked about, as the engine sees it. */
const sight = computed(() => {
  const line = run.why.value?.key === subject.value && run.why.value.place.find((l) => l.text === 'Clear sight')
  return reaches.value && line ? { key: subject.value, clear: line.met } : null
})

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
const keeping = useKeeping({
  run,
  here: () => (focus.value ? book.name(focus.value) : (level.value?.values.name ?? '')),
  began: () => beginning.words.value,
  at: () => back.at.value,
  show: () => (leaf.value = 'cards'),
})
const TOOLS: Record<string, () => void> = {
  F2: again,
  F3: () => run.send({ do: 'slower' }),
  F4: () => run.send({ do: 'faster' }),
  F6: () => run.send({ do: run.paused.value ? 'go' : 'pause' }),
  F7: () => run.send({ do: 'tick' }),
  F8: () => (reaches.value = !reaches.value),
  F9: () => run.send({ again_here: true }),
  F10: () => keeping.here(),
  l: () => (logOpen.value = !logOpen.value),
  k: () => run.send({ walk: true }),
  n: () => (named.value = !named.value),
  m: () => (heard.value = !heard.value),
  '+': () => zoomBy(1),
  '-': () => zoomBy(-1),
  '0': () => (zoom.value = 1),
}
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
const abouts = computed(() => new Set([...book.of('object'), ...book.of('quest')].map((row) => row.key)))
/** One and the same function: what takes it is not drawn anew with every picture. */
const nameOf = (key: string): string => book.name(key)
let polling = 0
function poll(): void {
  controls.pad(navigator.getGamepads())
  polling = requestAnimationFrame(poll)
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
          @point="(key) => (pointed = key)"
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
          @ask="ask"
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
        @here="keeping.then"
        @then="(one) => back.look(one.tick)"
        @back="lookAtNow"
        @ask="(number) => run.send({ because: number })"
        @export="run.send({ export: true })"
      />
    </div>
    <PlaytestPage
      v-model="leaf"
      :run="run"
      :beginning="beginning"
      :trying="trying"
      :keeping="keeping"
      :subject="subject"
      :pinned="asked !== ''"
      :tools="TOOLS"
      :named="named"
      :heard="heard"
      :playing="controls.holds"
      @ask="ask"
      @free="asked = ''"
      @jump="(entry) => chronicle?.jump(entry)"
    />
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
</style>
