<script setup lang="ts">
import { computed } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { RowOf, Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import Pennant from '@/parts/Pennant.vue'
import Spread from '@/parts/Spread.vue'
import type { Choice } from '@/parts/choices'
import { useKeys } from '@/parts/keys'
import { middles, useOrdering } from '@/parts/ordering'
import { counted } from '@/parts/plural'
import { useBook } from '@/stores/book'
import { saidOf, useFindings } from '@/stores/findings'
import { useLive } from '@/stores/live'
import { usePageReading } from '@/stores/page'
import DraftLine from './DraftLine.vue'
import LinePage from './LinePage.vue'
import { talkersOf } from './fields'
import { firstWords, needsWords, wordingsOf } from './wording'
import { useWriting } from './writing'


const book = useBook()
const live = useLive()
const findings = useFindings()
const route = useRoute()
const router = useRouter()
const { quietly } = useQuietly()

const selected = computed(() => String(route.params.selected ?? ''))
const line = computed(() => book.find('line', selected.value))
const talks = computed(() => book.of('conversation'))
const talk = computed<RowOf<'conversation'> | undefined>(() => {
  const chosen = talks.value.find((t) => t.key === selected.value || t.values.talker === selected.value)
  return chosen ?? talks.value.find((t) => t.id === line.value?.owner) ?? talks.value[0]
})
const lines = computed(() => (talk.value ? book.of('line', talk.value.id) : []))
const { reading } = usePageReading(() => talk.value?.id)

function choose(key: string): void {
  void router.push({ name: 'dialogue', params: { ...route.params, selected: key }, query: route.query })
}
function liveOf(one: RowOf<'line'>): Schemas['LiveLine'] | undefined {
  return live.reading?.lines[one.key]
}
function speaker(one: RowOf<'line'>): string {
  return (book.name(one.values.speaker || talk.value?.values.talker || '').split(' ')[0] ?? '').toUpperCase()
}
function lineOf(key: string): RowOf<'line'> | undefined {
  return lines.value.find((l) => l.key === key)
}
function steps(record: number): string {
  return reading.value?.texts[`${record}.steps`]?.tokens.map((t) => t.text).join('') ?? ''
}
const talkerWords = computed(() => (book.name(talk.value?.values.talker ?? '').split(' ')[0] ?? '').toUpperCase())
/** How a line is said: its voice, once, in turn. */
function manner(one: RowOf<'line'>): string {
  const { seconds, repeat, wordings, last_stays, voice, holds_player } = one.values
  return [
    repeat === 'once' && 'once',
    wordings.length > 1 && (last_stays ? 'last stays' : 'in turn'),
    (seconds || voice) && (seconds ? `voice ${seconds} s` : 'with a voice'),
    holds_player && 'holds the player',
  ]
    .filter(Boolean)
    .join(' · ')
}
/** The first opener that always fits, above which a new one stands. */
const always = computed(() => reading.value?.always ?? '')
const endsHere = (one: RowOf<'line'>): boolean => !one.values.then && !book.of('reply', one.id).length
function onwardWords(then: string): string {
  if (then === 'stays_here') return 'stays here'
  const next = lineOf(then)
  return next ? `“${firstWords(next.values.wordings[0] ?? '', 22)}”` : then === '?' ? '…' : 'ends the talk'
}
function saveWords(one: RowOf<'line'>, text: string): void {
  const wordings = wordingsOf(text)
  if (wordings) void quietly(book.set(one.id, { wordings }, `Reworded a line of ${talk.value?.values.name}`))
}
function saveReply(one: RowOf<'reply'>, text: string): void {
  const wordings = wordingsOf(text)
  if (wordings) void quietly(book.set(one.id, { wordings }, `Reworded a reply of ${talk.value?.values.name}`))
}
const { draft, at, typed, opener, follow, answer, keep, indent, close, shift, putBefore } = useWriting({
  talk: () => talk.value,
  lines: () => lines.value,
  choose,
})
/** What a draft is told by its keys. */
const writing = { keep, indent, close }
const onwardOf = (own: RowOf<'line'>, reply: boolean): Choice[] => [
  { value: '', label: 'ends the talk' },
  ...(reply ? [{ value: 'stays_here', label: 'stays here' }] : []),
  ...lines.value
    .filter((l) => l.id !== own.id || reply)
    .map((l) => ({ value: l.key, label: `“${firstWords(l.values.wordings[0] ?? '', 40)}”` })),
]
/** Lines are dragged by their margin, replies by their mark. */
const lineElements = (): NodeListOf<Element> => document.querySelectorAll('article[data-line]')
const dragged = useOrdering(
  'clientY',
  () => middles(lineElements(), 'clientY'),
  (id, before) => {
    const one = lines.value.find((l) => l.id === id)
    if (one) void putBefore(one, before)
  },
)
const draggedReply = useOrdering(
  'clientY',
  (id) => {
    const owner = book.rows.get(id)?.owner
    return middles(document.querySelectorAll(`li[data-reply][data-owner="${owner}"]`), 'clientY')
  },
  (id, before) => {
    const one = book.rows.get(id)
    if (one?.type === 'reply') void putBefore(one, before)
  },
)
async function addTalk(): Promise<void> {
  const name = book.freshName('conversation', 'New conversation')
  const made = await book.edit(
    [{ do: 'add', type: 'conversation', values: { name } as never }],
    'Added a conversation',
  )
  const row = made.rows.find((r) => r.type === 'conversation')
  if (row) choose(row.key)
}
function onKey(event: KeyboardEvent): void {
  if (event.ctrlKey || event.metaKey) return
  const by = { ArrowUp: -1, ArrowDown: 1 }[event.key] as 1 | -1 | undefined
  if (by && event.altKey && line.value) {
    event.preventDefault()
    const reply = (event.target as HTMLElement).closest<HTMLElement>('[data-reply]')?.dataset.reply
    const one = reply ? book.of('reply', line.value.id).find((r) => r.key === reply) : undefined
    void shift(one ?? line.value, by)
  } else if (by && !event.altKey) {
    event.preventDefault()
    const next = lines.value[lines.value.findIndex((l) => l.id === line.value?.id) + by]
    if (next) choose(next.key)
  } else if (!event.altKey) letter(event)
}
function letter(event: KeyboardEvent): void {
  const does: Record<string, () => void> = {
    o: opener,
    Enter: () => follow(line.value),
    r: () => line.value && answer(line.value),
  }
  const work = does[event.key]
  if (!work) return
  event.preventDefault()
  work()
}
useKeys({ down: onKey })
</script>

<template>
  <Spread>
    <template #left>
      <section class="talk">
        <nav v-if="talks.length" class="small">
          <button
            v-for="one in talks"
            :key="one.id"
            class="link"
            :class="{ here: one.id === talk?.id }"
            @click="choose(one.key)"
          >
            {{ one.values.name }}
          </button>
          <button class="link" @click="quietly(addTalk())">+ conversation</button>
        </nav>
        <header v-if="talk">
          <h1>{{ talk.values.name }}</h1>
          <span class="quiet small"
            >spoken by
            <EditWord
              :text="talk.values.talker ? book.name(talk.values.talker) : 'nobody'"
              label="talker"
              kind="choice"
              :choices="talkersOf(book, 'nobody')"
              @change="(v) => quietly(book.set(talk!.id, { talker: v }))"
          /></span>
          <span class="quiet small"
            >{{ counted(lines.filter((l) => l.values.opener).length, 'opener') }} ·
            {{ counted(lines.length, 'line') }}</span
          >
          <span class="gap" />
          <span class="quiet small"
            ><button class="link" @click="opener"><span class="key">O</span> opener</button> ·
            <button class="link" @click="follow(line)"><span class="key">Enter</span> line</button> ·
            <button class="link" :disabled="!line" @click="line && answer(line)">
              <span class="key">R</span> reply
            </button></span
          >
        </header>
        <template v-for="one in lines" :key="one.id">
          <DraftLine
            v-if="draft?.opener && one.key === always"
            :key="draft.id"
            v-model="typed"
            class="under"
            :speaker="talkerWords"
            :reply="false"
            v-on="writing"
          />
          <article
            :class="{
              chosen: one.key === line?.key,
              lit: live.on && liveOf(one)?.said,
              unlit: live.on && one.values.opener && !liveOf(one)?.said,
              landing: dragged.held.value?.before === one.id && dragged.held.value.id !== one.id,
            }"
            :data-line="one.key"
            :data-id="one.id"
            @click="one.key !== line?.key && choose(one.key)"
          >
            <div class="margin small" @pointerdown="(e) => dragged.take(e, one.id)">
              <template v-if="one.values.opener">
                <span class="needs" :data-unread="reading ? undefined : ''">{{
                  needsWords(reading?.texts[`${one.id}.needs`])
                }}</span>
                <template v-if="live.on"
                  ><br /><b v-if="liveOf(one)?.said" class="fine">said now</b
                  ><span v-else-if="liveOf(one)?.shadowed_by" class="quiet"
                    >after “{{ firstWords(lineOf(liveOf(one)!.shadowed_by)?.values.wordings[0] ?? '', 18) }}”</span
                  ><span v-else class="trouble">stopped: {{ liveOf(one)?.stopped }}</span></template
                >
              </template>
              <span v-if="findings.marks.has(one.id)" class="trouble flagged" :data-flagged="one.key"
                ><Pennant
                  v-tooltip="saidOf(findings.marks.get(one.id))"
                  :weight="findings.marks.get(one.id)!.weight"
                />{{ findings.marks.get(one.id)!.own ? findings.marks.get(one.id)!.says : '' }}</span
              >
              <span v-if="manner(one)" class="quiet">{{ one.values.opener ? ' · ' : '' }}{{ manner(one) }}</span>
            </div>
            <div class="words">
              <p>
                <span class="speaker">{{ speaker(one) }}</span
                ><EditWord
                  :text="one.values.wordings.join(' / ')"
                  label="line"
                  kind="long"
                  :value="one.values.wordings.join(' / ')"
                  @change="(v) => saveWords(one, v)"
                  @entered="endsHere(one) && follow(one)"
                />
              </p>
              <p v-if="steps(one.id)" class="role-step steps">{{ steps(one.id) }}</p>
              <ul>
                <li
                  v-for="reply in book.of('reply', one.id)"
                  :key="reply.id"
                  :data-reply="reply.key"
                  :data-id="reply.id"
                  :data-owner="one.id"
                  :class="{
                    landing: draggedReply.held.value?.before === reply.id && draggedReply.held.value.id !== reply.id,
                    carried: draggedReply.held.value?.id === reply.id,
                  }"
                >
                  <span
                    v-tooltip="'drag, or Alt with an arrow'"
                    class="mark"
                    aria-hidden="true"
                    @pointerdown.prevent="(e) => draggedReply.take(e, reply.id)"
                    >›</span
                  >
                  <span
                    ><EditWord
                      :text="reply.values.wordings.join(' / ')"
                      label="reply"
                      kind="text"
                      @change="(v) => saveReply(reply, v)"
                    />{{ ' ' }}
                    <span v-if="reply.values.needs" class="small quiet"
                      >{{ reply.values.unmet === 'greyed' ? 'greyed' : 'hidden' }} unless
                      <span class="needs" :data-unread="reading ? undefined : ''">{{
                        needsWords(reading?.texts[`${reply.id}.needs`])
                      }}</span
                      >,
                    </span>
                    <span v-if="reply.values.repeat === 'once'" class="small quiet">once, </span>
                    <span v-if="steps(reply.id)" class="role-step">{{ steps(reply.id) }}, </span
                    ><span class="quiet"
                      >{{ ['', 'stays_here'].includes(reply.values.then) ? '' : 'then ' }}
                      <EditWord
                        :text="onwardWords(reply.values.then)"
                        label="reply leads to"
                        kind="choice"
                        :choices="() => onwardOf(one, true)"
                        @change="(v) => quietly(book.set(reply.id, { then: v }))" /></span
                  ></span>
                </li>
                <li v-if="!book.of('reply', one.id).length">
                  <span class="mark" aria-hidden="true">›</span
                  ><span class="quiet"
                    >{{ one.values.then ? 'then ' : ''
                    }}<EditWord
                      :text="onwardWords(one.values.then)"
                      label="leads to"
                      kind="choice"
                      :choices="() => onwardOf(one, false)"
                      @change="(v) => quietly(book.set(one.id, { then: v }))"
                  /></span>
                </li>
              </ul>
            </div>
          </article>
          <DraftLine
            v-if="draft && !draft.opener && at === one.id"
            :key="draft.id"
            v-model="typed"
            class="under"
            :speaker="speaker(one)"
            :reply="draft.kind === 'reply'"
            v-on="writing"
          />
        </template>
        <p v-if="dragged.held.value && dragged.held.value.before === null" class="landing-end" />
        <DraftLine
            v-if="draft && (draft.opener ? !always : !at)"
          :key="draft.id"
          v-model="typed"
          class="under"
          :speaker="talkerWords"
          :reply="false"
          v-on="writing"
        />
        <p v-if="!talk" class="empty">
          Nobody says anything yet. Place a talker on the plan, or
          <button class="link" @click="quietly(addTalk())">begin a conversation</button>.
        </p>
        <p v-else-if="!lines.length" class="empty">
          No line yet. The first opener whose needs hold is said.
          <button class="link" @click="opener">Write the first</button>
        </p>
        <p v-else-if="!live.on" class="quiet small hint">
          Choose a bead in Quests or on the shelf to see which opener would be said there.
        </p>
      </section>
    </template>
    <LinePage v-if="line && talk" :key="line.id" :line="line" :talk="talk" :lines="lines" />
    <div v-else class="quiet">
      <h1>No line chosen</h1>
      <p>Choose a line to see when it is said, what it does, and to try it.</p>
    </div>
  </Spread>
</template>

<style scoped>
.flagged { display: flex; gap: 6px; justify-content: flex-end; align-items: flex-start; line-height: 1.4; margin-top: 2px; }
.talk { flex: 1; overflow: auto; contain: strict; padding: 18px 18px 30px; }
nav { display: flex; gap: 14px; margin-bottom: 6px; } nav .here { font-weight: 700; border-bottom-color: var(--ink); }
header { display: flex; align-items: baseline; gap: 14px; padding: 0 10px 6px; }
.gap { flex: 1; }
article {
  display: grid; grid-template-columns: 196px 1fr; gap: 18px; padding: 7px 12px 7px 0;
  border-left: 3px solid transparent; cursor: default;
}
article.chosen { border-left-color: var(--ink); background: var(--page); }
.under { padding-left: 217px; }
article.landing, li.landing { box-shadow: 0 -3px 0 -1px var(--ink); }
li.carried { opacity: 0.6; }
li[data-reply] .mark { cursor: grab; touch-action: none; }
.landing-end { height: 3px; background: var(--ink); margin: 0; }
.margin { cursor: grab; touch-action: none; text-align: right; line-height: 1.5; overflow-wrap: anywhere; }
.needs { border-bottom: 1.5px dotted var(--ink); }
.speaker { font-size: 12.5px; font-weight: 650; letter-spacing: 0.06em; color: var(--pencil); margin-right: 10px; }
.lit .words { font-weight: 640; }
.lit .speaker { color: var(--ink); }
.unlit .words { color: var(--pencil); padding-left: 10px; }
.words ul { list-style: none; margin: 0; padding: 0 0 0 26px; }
.words li { display: flex; gap: 10px; line-height: 1.6; }
.words :deep(.word) { text-decoration-color: transparent; }
.words :deep(.word:hover), article.chosen .words :deep(.word) { text-decoration-color: var(--line); }
.steps { padding-left: 26px; }
.mark { font-weight: 700; }
.empty { max-width: 50ch; padding: 20px 10px; } .hint { padding: 10px; }
</style>
