<script setup lang="ts">
import { useElementSize } from '@vueuse/core'
import { computed, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import Pennant from '@/parts/Pennant.vue'
import Spread from '@/parts/Spread.vue'
import Thread, { type ThreadStage } from '@/parts/Thread.vue'
import { useKeys } from '@/parts/keys'
import { headingWord, openWord } from '@/parts/opening'
import { orderBefore, orderShifted } from '@/parts/ordering'
import { useBook } from '@/stores/book'
import { saidOf, useFindings } from '@/stores/findings'
import { useLive } from '@/stores/live'
import { useThreads } from '@/stores/threads'
import { flagOf } from './flags'
import QuestPage from './QuestPage.vue'
import StagePage from './StagePage.vue'

const book = useBook()
const live = useLive()
const findings = useFindings()
const threads = useThreads()
const route = useRoute()
const router = useRouter()
const { quietly } = useQuietly()
const place = ref<HTMLElement | null>(null)
const { width } = useElementSize(place)
const NUMBERS = ['No', 'One', 'Two', 'Three', 'Four', 'Five', 'Six', 'Seven', 'Eight', 'Nine', 'Ten']

const quests = computed(() => book.of('quest'))
const selected = computed(() => book.nowCalled(String(route.params.selected ?? '')))
const quest = computed(() => quests.value.find((q) => q.key === selected.value.split('.')[0]))
const stage = computed(() => {
  const key = selected.value.split('.')[1]
  return key && quest.value ? book.of('stage', quest.value.id).find((s) => s.key === key) : undefined
})
const title = computed(
  () => `${NUMBERS[quests.value.length] ?? quests.value.length} ${quests.value.length === 1 ? 'quest' : 'quests'}`,
)

function choose(key: string): void {
  void router.push({ name: 'quests', params: { ...route.params, selected: key }, query: route.query })
}
function stages(owner: RowOf<'quest'>): ThreadStage[] {
  return book
    .of('stage', owner.id)
    .map((s) => {
      const objectives = book.of('objective', s.id)
      const notes = objectives.map((o) => o.values.name)
      return { key: s.key, name: s.values.name, notes, flag: flagOf(book, findings, s.id) }
    })
}
function line(owner: RowOf<'quest'>): string {
  return [
    owner.values.offered_by ? `${book.name(owner.values.offered_by)} asks` : 'nobody offers it yet',
    threads.byQuest.get(owner.key)?.rewards.join(', ') ?? '',
  ]
    .filter(Boolean)
    .join(' · ')
}
async function addQuest(): Promise<void> {
  const name = book.freshName('quest', 'New quest')
  const bead = ['circle', 'diamond', 'square', 'triangle', 'hexagon'][quests.value.length % 5]
  const made = await book.edit(
    [
      { do: 'add', type: 'quest', values: { name, bead } as never },
      { do: 'add', type: 'stage', under: 0, values: { name: 'First stage', then: 'done' } as never },
    ],
    'Added a quest',
  )
  const row = made.rows.find((r) => r.type === 'quest')
  if (!row) return
  choose(row.key)
  await openWord(() => headingWord(name))
}
/** A stage after the one chosen, else last. The one before it leads to it, and it to where that one led. */
async function addStage(): Promise<void> {
  const owner = quest.value
  if (!owner) return
  const all = book.of('stage', owner.id)
  const before = stage.value ?? all.at(-1)
  let n = all.length + 1
  while (all.some((s) => s.key === `stage_${n}`)) n++
  const [key, name] = [`stage_${n}`, `Stage ${n}`]
  const next = all[all.findIndex((s) => s.id === before?.id) + 1]
  const order = before ? orderBefore(all, -1, next?.id ?? null) : null
  const values = { name, then: before?.values.then ?? 'done' } as never
  const made = await book.edit(
    [
      { do: 'add', type: 'stage', owner: owner.id, key, order, values },
      ...(before?.values.then ? [{ do: 'set' as const, id: before.id, values: { then: key } }] : []),
    ],
    `Added a stage to ${owner.values.name}`,
  )
  const row = made.rows.find((r) => r.type === 'stage' && r.key === key)
  if (!row) return
  choose(book.nowCalled(`${owner.key}.${row.key}`))
  await openWord(() => headingWord(name))
}
async function put(mine: RowOf<'stage'>, order: number | undefined): Promise<void> {
  if (order !== undefined) await book.edit([{ do: 'set', id: mine.id, order }], `Moved ${mine.values.name}`)
}
async function shift(by: 1 | -1): Promise<void> {
  const mine = stage.value
  if (mine) await put(mine, orderShifted(book.of('stage', mine.owner ?? 0), mine.id, by))
}
/** A bead was dragged to hang before another, or last. */
function moveBead(owner: RowOf<'quest'>, key: string, before: string | null): void {
  const all = book.of('stage', owner.id)
  const mine = all.find((s) => s.key === key)
  if (mine) void quietly(put(mine, orderBefore(all, mine.id, all.find((s) => s.key === before)?.id ?? null)))
}
function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey) return
  if (event.altKey && (event.key === 'ArrowLeft' || event.key === 'ArrowRight')) {
    event.preventDefault()
    void quietly(shift(event.key === 'ArrowLeft' ? -1 : 1))
  } else if (event.key === 'n' && !event.altKey) void quietly(addQuest())
  else if (event.key === 'b' && !event.altKey) void quietly(addStage())
}
useKeys({ down: onKey })
</script>

<template>
  <Spread>
    <template #left>
      <section ref="place" class="quests">
        <header>
          <h1>{{ title }}</h1>
          <p class="quiet small">
            <button class="link" @click="quietly(addQuest())"><span class="key">N</span> new quest</button> ·
            <button class="link" :disabled="!quest" @click="quietly(addStage())">
              <span class="key">B</span> new bead after this one
            </button>
          </p>
        </header>
        <article v-for="(one, i) in quests" :key="one.id" :class="{ chosen: one.key === quest?.key }">
          <h2>
            <button :data-quest="one.key" @click="choose(one.key)">{{ one.values.name }}</button>
            <Pennant
              v-if="findings.marks.has(one.id)"
              v-tooltip="saidOf(findings.marks.get(one.id))"
              class="flag"
              :weight="findings.marks.get(one.id)!.weight"
            />
          </h2>
          <p class="quiet small">{{ line(one) }}</p>
          <Thread
            :quest="one.values.name"
            :stages="stages(one)"
            :bead="one.values.bead"
            :strand="i"
            :now="live.reading?.stages[one.key] ?? ''"
            :status="live.reading?.statuses[one.key] ?? ''"
            :selected="one.key === quest?.key ? (stage?.key ?? '') : ''"
            notes
            :ways="threads.byQuest.get(one.key)?.ways ?? null"
            :width="width - 60"
            movable
            @choose="(s) => choose(`${one.key}.${s}`)"
            @move="(key, before) => moveBead(one, key, before)"
          />
        </article>
        <p v-if="!quests.length" class="empty">
          No quest yet. A quest is a thread with a bead for each stage; objects, lines and places move it along.
          <button class="link" @click="quietly(addQuest())">Begin the first one</button>
        </p>
      </section>
    </template>
    <StagePage v-if="stage && quest" :key="stage.id" :quest="quest" :stage="stage" @chosen="choose" />
    <QuestPage v-else-if="quest" :key="quest.id" :quest="quest" @chosen="choose" @add="quietly(addStage())" />
    <div v-else class="quiet">
      <h1>No quest chosen</h1>
      <p>Choose a name or a bead on the left to see all that touches it in one place.</p>
    </div>
  </Spread>
</template>

<style scoped>
.quests { flex: 1; overflow: auto; padding: 20px 24px; }
header { display: flex; justify-content: space-between; align-items: baseline; }
article { margin-top: 20px; padding-left: 10px; margin-left: -13px; border-left: 3px solid transparent; }
article.chosen { border-left-color: var(--ink); }
article h2 { font-size: 16px; }
.flag { margin-left: 8px; vertical-align: -2px; }
.empty { max-width: 52ch; margin-top: 24px; }
</style>
