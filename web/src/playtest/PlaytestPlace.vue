<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, nextTick, onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute } from 'vue-router'
import Problems from '@/parts/Problems.vue'
import { placed } from '@/plan/designs'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import Chronicle from './Chronicle.vue'
import { usePlaytest } from './connection'
import GameHud from './GameHud.vue'
import NightFloor from './NightFloor.vue'
import TalkBox from './TalkBox.vue'
import { useControls } from './controls'
import { useSounds } from './sounds'
import WhyLeaf from './WhyLeaf.vue'

const book = useBook()
const live = useLive()
const route = useRoute()
const run = usePlaytest(book.project)
const reaches = useStorage('playtest-reaches', true)
const asked = ref('')
const crowded = ref(false)
const floor = ref<HTMLElement | null>(null)

const level = computed(() => book.find('level', book.settings?.values.first_level ?? '') ?? book.of('level')[0])
const kinds = computed(() => new Map(book.of('kind').map((k) => [k.key, k])))
const objects = computed(() => (level.value ? book.of('object', level.value.id).map((o) => placed(o, kinds.value)) : []))
const talk = computed(() => run.picture.value?.talk ?? null)
const screenPrompts = computed(() => (run.picture.value?.prompts ?? []).filter((p) => p.place === 'screen'))
const focus = computed(() => run.picture.value?.prompts[0]?.object ?? '')
const subject = computed(() => asked.value || focus.value || lastFocus.value)
const lastFocus = ref('')
const startWords = computed(() => (live.on ? live.reading?.point : 'the start'))
const paceWords = computed(() => (run.paused.value ? 'paused' : run.pace.value === 1 ? '' : `${run.pace.value} × speed`))

function begin(): void {
  const [quest = '', stage = ''] = live.asked.split('.')
  const at = String(route.params.selected ?? '')
  lastFocus.value = book.find('object', at) ? at : ''
  run.begin({ quest, stage, changes: live.changes, at })
}
const TOOLS: Record<string, () => void> = {
  F2: begin,
  F3: () => run.send({ do: 'slower' }),
  F4: () => run.send({ do: 'faster' }),
  F6: () => run.send({ do: run.paused.value ? 'go' : 'pause' }),
  F7: () => run.send({ do: 'tick' }),
  F8: () => (reaches.value = !reaches.value),
}
const controls = useControls({
  bindings: () => book.settings?.values.controls ?? [],
  talk: () => talk.value,
  send: run.send,
  tools: TOOLS,
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

let lastAsked = 0
watch(run.picture, (picture) => {
  if (focus.value) lastFocus.value = focus.value
  if (picture && subject.value && picture.tick - lastAsked >= 6) {
    lastAsked = picture.tick
    run.send({ why: subject.value })
  }
  if (picture && picture.tick < lastAsked) lastAsked = 0
})
onMounted(async () => {
  begin()
  await nextTick()
  floor.value?.focus()
})
onUnmounted(() => controls.release())
</script>

<template>
  <div class="playtest">
    <div class="stage">
      <div ref="floor" class="floor" tabindex="0" role="application" aria-label="The level, walked with W A S D or by clicking the floor" @keydown="controls.down" @keyup="controls.up" @blur="controls.release">
        <NightFloor v-if="level && run.picture.value" :level="level" :areas="book.of('area', level.id)" :walls="book.of('wall', level.id)" :objects="objects" :run="run" :reaches="reaches" @crowded="(now) => (crowded = now)" @walk="(x, y) => run.send({ input: { walk_to: [x, y] } })" @ask="(key) => ((asked = key), run.send({ why: key }))" />
        <p v-else class="waiting">{{ run.problems.value.length ? '' : 'Lights down …' }}</p>
        <GameHud v-if="run.hud.value" :aside="crowded" :hud="run.hud.value" :told="run.chronicle.value" :tick="run.picture.value?.tick ?? 0" :pace="paceWords" />
        <div v-if="screenPrompts.length" class="screen-prompts"><p v-for="p in screenPrompts" :key="p.control" :class="{ dim: !p.usable }"><span class="key">{{ p.cap }}</span> {{ p.wording }} <i v-if="p.reason">{{ p.reason }}</i></p></div>
        <div v-if="talk" class="talk"><TalkBox :talk="talk" @choose="(key) => run.send({ input: { choose: key } })" @skip="run.send({ input: { skip: true } })" /></div>
        <p v-if="!run.connected.value && run.picture.value" class="lost" role="status">The connection is lost; the run is taken up again as soon as it is back.</p>
      </div>
      <Chronicle :told="run.chronicle.value" />
    </div>
    <aside class="page">
      <Problems :problems="run.problems.value" />
      <WhyLeaf :why="run.why.value" :subject="subject" :pinned="asked !== ''" :names="(k) => book.name(k)" @ask="(key) => ((asked = key), run.send({ why: key }))" @free="asked = ''" />
      <section class="start">
        <h2>Start</h2>
        <p>from <b>{{ startWords }}</b><template v-if="route.params.selected"> at {{ book.name(String(route.params.selected)) }}</template></p>
        <p class="tools"><button @click="begin"><span class="key">F2</span> again</button><button @click="TOOLS.F3?.()"><span class="key">F3</span> slower</button><button @click="TOOLS.F4?.()"><span class="key">F4</span> faster</button><button @click="TOOLS.F6?.()"><span class="key">F6</span> {{ run.paused.value ? 'go on' : 'pause' }}</button><button @click="TOOLS.F7?.()"><span class="key">F7</span> one tick</button><button @click="TOOLS.F8?.()"><span class="key">F8</span> reaches</button></p>
      </section>
    </aside>
  </div>
</template>

<style scoped>
.playtest { flex: 1; display: flex; min-width: 0; background: var(--night); color: var(--chalk); }
.stage { flex: 1; min-width: 0; display: flex; flex-direction: column; }
.floor { position: relative; flex: 1; min-height: 0; overflow: hidden; outline: none; display: flex; }
.floor:focus-visible { outline: none; }
.floor:focus-visible::after { content: ''; position: absolute; inset: 0; border: 1px solid #6b5a33; pointer-events: none; }
.waiting { margin: auto; color: var(--dusk); }
.page { width: 406px; flex: none; overflow: auto; background: var(--floor); border-left: 1px solid var(--night-rule); padding: 20px 22px; }
.talk { position: absolute; left: 50%; bottom: 84px; transform: translateX(-50%); width: min(560px, 84%); }
.screen-prompts { position: absolute; left: 50%; bottom: 84px; transform: translateX(-50%); }
.screen-prompts p { background: #0e1216; border: 1px solid var(--night-rule); border-radius: 8px; padding: 6px 14px; }
.screen-prompts .dim { color: var(--dusk); } .screen-prompts i { color: var(--glow); }
.lost { position: absolute; top: 12px; left: 50%; transform: translateX(-50%); background: #0e1216; border: 1px solid var(--glow); padding: 4px 14px; border-radius: 6px; }
.start h2 { margin-top: 22px; border-bottom: 1px solid var(--night-rule); }
.tools { display: flex; flex-wrap: wrap; gap: 4px 14px; margin-top: 4px; color: var(--dusk); font-size: 13px; }
.tools .key { color: var(--chalk); }
</style>
