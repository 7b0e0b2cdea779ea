<script setup lang="ts">
import { computed, nextTick } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { RowOf, Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import Spread from '@/parts/Spread.vue'
import { useKeys, withKeysHeld } from '@/parts/keys'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import { usePageReading } from '@/stores/page'
import LinePage from './LinePage.vue'
import { firstWords, needsWords, wordingsOf } from './wording'
import { counted } from '@/parts/plural'

const book = useBook()
const live = useLive()
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
function onward(reply: RowOf<'reply'>): string {
  if (reply.values.then === 'stays_here') return 'stays here'
  const next = lineOf(reply.values.then)
  return next ? `then “${firstWords(next.values.wordings[0] ?? '', 22)}”` : 'ends'
}
function steps(record: number): string {
  return reading.value?.texts[`${record}.steps`]?.tokens.map((t) => t.text).join('') ?? ''
}
function saveWords(one: RowOf<'line'>, text: string): void {
  const wordings = wordingsOf(text)
  if (wordings) void quietly(book.set(one.id, { wordings }, `Reworded a line of ${talk.value?.values.name}`))
}
function saveReply(one: RowOf<'reply'>, text: string): void {
  const wordings = wordingsOf(text)
  if (wordings) void quietly(book.set(one.id, { wordings }, `Reworded a reply of ${talk.value?.values.name}`))
}
/** Adds something said, and opens its words: what is typed meanwhile is no command. */
function addSaid(type: 'line' | 'reply', owner: number, values: Record<string, unknown>): Promise<void> {
  return withKeysHeld(async () => {
    const made = await book.edit([{ do: 'add', type, owner, values: values as never }], `Added a ${type}`)
    const row = made.rows.find((r) => r.type === type)
    if (row?.type === 'line') choose(row.key)
    await nextTick()
    if (row) await words.get(row.id)?.begin()
  })
}
async function addLine(opener: boolean): Promise<void> {
  const values = { wordings: ['New line.'], opener, speaker: talk.value?.values.talker }
  if (talk.value) await addSaid('line', talk.value.id, values)
}
async function addReply(): Promise<void> {
  if (line.value) await addSaid('reply', line.value.id, { wordings: ['New reply.'] })
}
/** The words of each line and reply, to be opened. */
const words = new Map<number, InstanceType<typeof EditWord>>()
function keepWord(id: number, word: unknown): void {
  if (word) words.set(id, word as InstanceType<typeof EditWord>)
  else words.delete(id)
}
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
  if (event.ctrlKey || event.metaKey || event.altKey) return
  if (event.key === 'o') void quietly(addLine(true))
  if (event.key === 'r') void quietly(addReply())
}
useKeys({ down: onKey })
</script>

<template>
  <Spread>
    <template #left>
      <section class="talk">
        <nav v-if="talks.length > 1" class="small">
          <button
            v-for="one in talks"
            :key="one.id"
            class="link"
            :class="{ here: one.id === talk?.id }"
            @click="choose(one.key)"
          >
            {{ one.values.name }}
          </button>
        </nav>
        <header v-if="talk">
          <h1>{{ talk.values.name }}</h1>
          <span class="quiet small"
            >{{ counted(lines.filter((l) => l.values.opener).length, 'opener') }} ·
            {{ counted(lines.length, 'line') }}</span
          >
          <span class="gap" />
          <span class="quiet small"
            ><button class="link" @click="quietly(addLine(true))"><span class="key">O</span> opener</button> ·
            <button class="link" @click="quietly(addLine(false))">line</button> ·
            <button class="link" :disabled="!line" @click="quietly(addReply())">
              <span class="key">R</span> reply
            </button></span
          >
        </header>
        <article
          v-for="one in lines"
          :key="one.id"
          :class="{
            chosen: one.key === line?.key,
            lit: liveOf(one)?.said,
            unlit: live.on && one.values.opener && !liveOf(one)?.said,
          }"
          :data-line="one.key"
          @click="one.key !== line?.key && choose(one.key)"
        >
          <div class="margin small">
            <template v-if="one.values.opener">
              <span class="needs" :data-unread="reading ? undefined : ''">{{
                needsWords(reading?.texts[`${one.id}.needs`])
              }}</span><template v-if="one.values.wordings.length > 1">
                · {{ one.values.last_stays ? 'last stays' : 'in turn' }}</template
              ><template v-if="one.values.repeat === 'once'"> · once</template>
              <template v-if="live.on"
                ><br /><b v-if="liveOf(one)?.said" class="fine">said now</b
                ><span v-else-if="liveOf(one)?.shadowed_by" class="quiet"
                  >after “{{ firstWords(lineOf(liveOf(one)!.shadowed_by)?.values.wordings[0] ?? '', 18) }}”</span
                ><span v-else class="trouble"
                  ><span aria-hidden="true">⚑ </span>stopped: {{ liveOf(one)?.stopped }}</span
                ></template
              >
            </template>
            <span v-else class="quiet">{{ one.values.seconds ? `voice ${one.values.seconds} s` : '' }}</span>
          </div>
          <div class="words">
            <p>
              <span class="speaker">{{ speaker(one) }}</span
              ><EditWord
                :ref="(w) => keepWord(one.id, w)"
                :text="one.values.wordings.join(' / ')"
                label="line"
                kind="long"
                :value="one.values.wordings.join(' / ')"
                @change="(v) => saveWords(one, v)"
              />
            </p>
            <p v-if="steps(one.id)" class="role-step steps">{{ steps(one.id) }}</p>
            <ul>
              <li v-for="reply in book.of('reply', one.id)" :key="reply.id">
                <span class="mark" aria-hidden="true">›</span>
                <span
                  ><EditWord
                    :ref="(w) => keepWord(reply.id, w)"
                    :text="reply.values.wordings.join(' / ')"
                    label="reply"
                    kind="text"
                    @change="(v) => saveReply(reply, v)"
                  />{{ ' ' }}
                  <span v-if="reply.values.needs" class="small quiet"
                    >{{ reply.values.unmet === 'greyed' ? 'greyed' : 'hidden' }} unless
                    <span class="needs" :data-unread="reading ? undefined : ''">{{
                      needsWords(reading?.texts[`${reply.id}.needs`])
                    }}</span>,
                  </span>
                  <span v-if="steps(reply.id)" class="role-step">{{ steps(reply.id) }}, </span
                  ><i class="quiet">{{ onward(reply) }}</i></span
                >
              </li>
              <li v-if="!book.of('reply', one.id).length">
                <span class="mark" aria-hidden="true">›</span
                ><i class="quiet">{{
                  lineOf(one.values.then)
                    ? `then “${firstWords(lineOf(one.values.then)!.values.wordings[0] ?? '', 22)}”`
                    : 'ends the talk'
                }}</i>
              </li>
            </ul>
          </div>
        </article>
        <p v-if="!talk" class="empty">
          Nobody says anything yet. Place a talker on the plan, or
          <button class="link" @click="quietly(addTalk())">begin a conversation</button>.
        </p>
        <p v-else-if="!lines.length" class="empty">
          No line yet. The first opener whose needs hold is said.
          <button class="link" @click="quietly(addLine(true))">Write the first</button>
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
.talk { flex: 1; overflow: auto; padding: 18px 18px 30px; }
nav { display: flex; gap: 14px; margin-bottom: 6px; } nav .here { font-weight: 700; border-bottom-color: var(--ink); }
header { display: flex; align-items: baseline; gap: 14px; padding: 0 10px 6px; }
.gap { flex: 1; }
article {
  display: grid; grid-template-columns: 196px 1fr; gap: 18px; padding: 7px 12px 7px 0;
  border-left: 3px solid transparent; cursor: default;
}
article.chosen { border-left-color: var(--ink); background: var(--page); }
.margin { text-align: right; line-height: 1.5; overflow-wrap: anywhere; }
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
