<script setup lang="ts">
import { useElementSize, useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useBook } from '@/stores/book'
import { flagOf } from '@/quests/flags'
import { useFindings } from '@/stores/findings'
import { useLive } from '@/stores/live'
import { useThreads } from '@/stores/threads'
import CardShelf from './CardShelf.vue'
import Thread, { type ThreadStage } from './Thread.vue'
import { follow } from './dragging'

/** The shelf under the plan: threads that touch the selection first; a bead chosen is *as if*. */
const props = defineProps<{ touching: string[] }>()
const book = useBook()
const live = useLive()
const findings = useFindings()
const threads = useThreads()
const height = useStorage('shelf-height', 126)
const more = ref(false)
const pinned = useStorage<string[]>(`pinned-threads:${book.project}`, [])
const shelf = ref<HTMLElement | null>(null)
const { width } = useElementSize(shelf)
const MOST = 2

const quests = computed(() => {
  const all = book.of('quest').map((quest, strand) => ({ quest, strand }))
  const rank = (key: string): number => (props.touching.includes(key) ? 0 : pinned.value.includes(key) ? 1 : 2)
  return all.sort((a, b) => rank(a.quest.key) - rank(b.quest.key) || a.strand - b.strand)
})
const first = computed(
  () => quests.value.filter((q) => props.touching.includes(q.quest.key) || pinned.value.includes(q.quest.key)).length,
)
const shown = computed(() => (more.value ? quests.value : quests.value.slice(0, Math.max(MOST, first.value))))

function stages(id: number): ThreadStage[] {
  return book
    .of('stage', id)
    .map((s) => ({ key: s.key, name: s.values.name, notes: [], flag: flagOf(book, findings, s.id) }))
}
function pin(key: string): void {
  pinned.value = pinned.value.includes(key) ? pinned.value.filter((k) => k !== key) : [...pinned.value, key]
}
function choose(quest: string, stage: string): void {
  const point = `${quest}.${stage}`
  live.choose(live.asked === point ? '' : point)
}
function drag(event: PointerEvent): void {
  event.preventDefault()
  const was = height.value
  follow({
    move: (e) => (height.value = Math.min(Math.max(window.innerHeight - e.clientY, 58), window.innerHeight / 2)),
    cancel: () => (height.value = was),
  })
}
</script>

<template>
  <section ref="shelf" class="shelf" :style="{ height: `${height}px` }" aria-label="Thread shelf">
    <div class="edge" @pointerdown="drag" />
    <div class="threads">
      <div v-for="{ quest, strand } in shown" :key="quest.id" class="row">
        <router-link class="name" :to="{ name: 'quests', params: { selected: quest.key } }">{{
          quest.values.name
        }}</router-link>
        <button
          class="pin small quiet"
          :class="{ on: pinned.includes(quest.key) }"
          :aria-pressed="pinned.includes(quest.key)"
          :aria-label="`Pin the thread of ${quest.values.name}`"
          @click="pin(quest.key)"
        >
          {{ pinned.includes(quest.key) ? 'pinned' : 'pin' }}
        </button>
        <Thread
          :quest="quest.values.name"
          :stages="stages(quest.id)"
          :bead="quest.values.bead"
          :strand="strand"
          :now="live.reading?.stages[quest.key] ?? ''"
          :status="live.reading?.statuses[quest.key] ?? ''"
          :selected="live.asked.split('.')[1] ?? ''"
          :notes="false"
          :ways="threads.byQuest.get(quest.key)?.ways ?? null"
          :width="width - 180"
          @choose="(s) => choose(quest.key, s)"
        />
      </div>
      <button v-if="quests.length > shown.length || more" class="quiet small link" @click="more = !more">
        {{
          more
            ? 'fewer threads'
            : `${quests.length - shown.length} more ${quests.length - shown.length === 1 ? 'thread' : 'threads'}`
        }}
      </button>
      <CardShelf />
      <p v-if="!quests.length" class="quiet">
        No quest yet. <router-link class="link" :to="{ name: 'quests' }">Begin one</router-link>, and its thread lies
        here.
      </p>
      <p v-else-if="!live.on" class="quiet small hint">
        Choose a bead to see plan and talk as if the story stood there.
      </p>
    </div>
  </section>
</template>

<style scoped>
.shelf {
  position: relative; flex: none; background: var(--page); border-top: 1px solid var(--rules); overflow: hidden;
}
.edge { position: absolute; top: -3px; left: 0; right: 0; height: 7px; cursor: row-resize; z-index: 2; }
.threads { height: 100%; overflow: auto; padding: 10px 16px 6px; }
.row { display: flex; align-items: flex-start; gap: 4px; }
.pin { opacity: 0; flex: none; width: 42px; padding-top: 8px; }
.pin.on, .row:hover .pin, .pin:focus-visible { opacity: 1; }
.name {
  flex: none; width: 106px; padding-top: 6px; text-decoration: none; line-height: 1.3; overflow: hidden;
  text-overflow: ellipsis;
}
.name:hover { text-decoration: underline; }
.hint { padding: 4px 0 0 148px; }
</style>
