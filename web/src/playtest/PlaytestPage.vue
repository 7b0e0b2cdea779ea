<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { useRoute, type RouteLocationRaw } from 'vue-router'
import { leadOf } from '@/page/leads'
import type { Choice } from '@/parts/choices'
import Problems from '@/parts/Problems.vue'
import { useBook } from '@/stores/book'
import { useTried } from '@/stores/tried'
import { useWalks } from '@/stores/walks'
import type { Beginning } from './beginning'
import CardList from './CardList.vue'
import type { PlaytestRun } from './connection'
import type { Keeping } from './keeping'
import KeepWalk from './KeepWalk.vue'
import { LEAVES, type Leaf } from './leaves'
import RunList from './RunList.vue'
import type { Trying } from './trying'
import TryLeaf from './TryLeaf.vue'
import WalkList from './WalkList.vue'
import WhyLeaf from './WhyLeaf.vue'

/** The page beside a playtest: what is to be said of the run, one of its leaves, and the tools with their keys. */
const props = defineProps<{
  run: PlaytestRun
  beginning: Beginning
  trying: Trying
  keeping: Keeping
  /** What *why* is about, and whether it was asked for. */
  subject: string
  pinned: boolean
  tools: Record<string, () => void>
  named: boolean
  heard: boolean
  /** Whether the player holds a key of the run. */
  playing: () => boolean
}>()
const leaf = defineModel<Leaf>({ required: true })
const emit = defineEmits<{ ask: [key: string]; free: []; jump: [entry: number] }>()
const book = useBook()
const walks = useWalks()
const tried = useTried()
const route = useRoute()
const cardList = ref<InstanceType<typeof CardList> | null>(null)
watch(props.keeping.kept, (card) => cardList.value?.show(card, !props.playing()))
/** How many edits the project is on from what is walked, those of start cards and kept walks aside. */
const editsSince = computed(() => (props.run.edit.value ? book.editsSince(props.run.edit.value) : 0))
const ASKED = ['object', 'quest', 'objective', 'conversation', 'line', 'ability', 'item'] as const
/** Everything that one can ask about. */
function whyChoices(): Choice[] {
  return ASKED.flatMap((type) =>
    book.of(type).map((row) => ({ value: row.key, label: book.name(row.key), detail: type === 'object' ? '' : type })),
  )
}
/** The thing that a problem lies in: its name and its page. */
function whereOf(path: string): { name: string; to: RouteLocationRaw | null } {
  const row = book.byKey.get(path.split('/')[1] ?? '')
  return row ? { name: book.name(row.key), to: leadOf(book, row.id) } : { name: '', to: null }
}
</script>

<template>
  <aside class="page">
    <Problems :problems="run.problems.value" />
    <p v-if="editsSince" class="news" role="status">
      {{ editsSince === 1 ? 'One edit' : `${editsSince} edits` }} since this run began; it goes on as it was.
      <button class="link" @click="tools.F9?.()">
        <span class="key">F9</span> begin again here with what is new
      </button>
    </p>
    <p v-if="run.leftOut.value.length" class="news" role="status">
      Begun again here. Left out: {{ run.leftOut.value.join('; ') }}.
    </p>
    <p v-if="run.otherwise.value" class="news" role="status">
      Put together again from what was pressed, this run came to something else than before; it goes on from here.
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
        :name="keeping.walkName.value"
        @keep="keeping.walk"
        @close="keeping.notNow"
      />
      <WalkList
        :watching="beginning.walk.value?.key ?? ''"
        @keep="run.send({ walk: true })"
        @watch="(key, at) => keeping.watchIt(at === null ? { watch: key } : { watch: key, at })"
      />
      <CardList ref="cardList" :begun="beginning.card.value?.key ?? ''" @here="tools.F10?.()" />
      <RunList
        :now="run.run.value"
        @go="(number) => keeping.watchIt({ resume: number })"
        @watch="(number) => keeping.watchIt({ run: number })"
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
      :pinned="pinned"
      :choices="whyChoices"
      @ask="(key) => emit('ask', key)"
      @free="emit('free')"
      @jump="(entry) => emit('jump', entry)"
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
        <button @click="tools.F2?.()"><span class="key">F2</span> again</button
        ><button @click="tools.F3?.()"><span class="key">F3</span> slower</button
        ><button @click="tools.F4?.()"><span class="key">F4</span> faster</button
        ><button @click="tools.F6?.()"><span class="key">F6</span> {{ run.paused.value ? 'go on' : 'pause' }}</button
        ><button @click="tools.F7?.()"><span class="key">F7</span> one tick</button
        ><button @click="tools.F8?.()"><span class="key">F8</span> reaches</button
        ><button @click="tools.F9?.()"><span class="key">F9</span> again from here</button
        ><button @click="tools.F10?.()"><span class="key">F10</span> keep this spot</button
        ><button @click="tools.k?.()"><span class="key">K</span> keep this walk</button
        ><button :aria-pressed="named" @click="tools.n?.()"><span class="key">N</span> names</button
        ><button :aria-pressed="heard" @click="tools.m?.()">
          <span class="key">M</span> sounds {{ heard ? 'on' : 'off' }}</button
        ><button @click="tools['+']?.()"><span class="key">+</span> nearer</button
        ><button @click="tools['-']?.()"><span class="key">−</span> farther</button>
      </p>
    </section>
  </aside>
</template>

<style scoped>
.page {
  width: 406px; flex: none; overflow: auto; background: var(--floor); border-left: 1px solid var(--night-rule);
  padding: 20px 22px;
}
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
