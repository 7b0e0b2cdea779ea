<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import { LETTERS_A_SECOND, SHORTEST_S } from '@/api/described'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import NameInCues from '@/page/NameInCues.vue'
import { leadOf } from '@/page/leads'
import { useQuietly } from '@/page/quietly'
import type { Choice } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import type { SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import { usePageReading } from '@/stores/page'
import { lineFields, replyFields, talkersOf } from './fields'
import TryIt from './TryIt.vue'
import { firstWords } from './wording'

const props = defineProps<{ line: RowOf<'line'>; talk: RowOf<'conversation'>; lines: readonly RowOf<'line'>[] }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.line.id)
const values = computed(() => props.line.values)
const replies = computed(() => book.of('reply', props.line.id))
/** How long it lasts where no seconds are given: as its voice, or by its length. */
const length = computed(() => {
  const sound = book.find('sound', values.value.voice)?.values
  if (sound?.file) return `${sound.seconds} s as its voice`
  const letters = values.value.wordings[0]?.length ?? 0
  return `${Math.max(SHORTEST_S, letters / LETTERS_A_SECOND).toFixed(1)} s by its length`
})
const onward = (): Choice[] => [
  { value: '', label: 'ends the conversation' },
  ...props.lines
    .filter((l) => l.id !== props.line.id)
    .map((l) => ({ value: l.key, label: `“${firstWords(l.values.wordings[0] ?? '', 40)}”` })),
]
const sounds = (): Choice[] => [
  { value: '', label: 'no voice' },
  ...book.of('sound').map((s) => ({ value: s.key, label: s.values.name })),
]
const LINE = lineFields(
  onward,
  sounds,
  () => talkersOf(book, 'the talker'),
  () => length.value,
)
const REPLY = replyFields(() => [...onward(), { value: 'stays_here', label: 'stays here' }])
const said = computed<SentencePart[]>(() => {
  const count = values.value.wordings.length
  return [
    'Spoken by {speaker}. It is heard with {voice} and lasts {seconds}. {repeat}',
    [count > 1, `, its ${count} wordings {last_stays}`],
    '. Holds the player: {holds_player}. Then ',
    replies.value.length ? 'it waits for a reply.' : '{then}.',
  ]
})
const ofAReply = (reply: RowOf<'reply'>): SentencePart[][] => [
  ['“{wordings}” then {then}'],
  [
    'It is there {repeat}',
    [reply.values.wordings.length > 1, ', its wordings {last_stays}'],
    '; where its needs are not met it is {unmet}.',
  ],
]

const talkerLead = computed(() => leadOf(book, book.byKey.get(props.talk.values.talker)?.id ?? 0))
function set(change: Record<string, unknown>): void {
  void quietly(book.set(props.line.id, change))
}
function setReply(id: number, change: Record<string, unknown>): void {
  void quietly(book.set(id, change))
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
function addReply(): void {
  const values = { wordings: ['New reply.'] } as never
  void quietly(book.edit([{ do: 'add', type: 'reply', owner: props.line.id, values }], 'Added a reply'))
}
function removeReply(id: number): void {
  void quietly(book.edit([{ do: 'remove', id }], 'Deleted a reply'))
}
function moveTo(key: string): void {
  const talk = book.find('conversation', key)
  if (talk && talk.id !== props.talk.id) void quietly(book.edit([{ do: 'move', id: props.line.id, owner: talk.id }]))
}
function follow(selected: string): void {
  void router.replace({ params: { selected } })
}
async function remove(clean: boolean): Promise<void> {
  const talk = props.talk.key
  const gone = await quietly(book.edit([{ do: 'remove', id: props.line.id, clean }]))
  if (gone) void router.replace({ name: 'dialogue', params: { selected: talk } })
}
</script>

<template>
  <p class="small quiet">
    <router-link v-if="talkerLead" class="link" :to="talkerLead">{{ book.name(talk.values.talker) }}</router-link>
    <template v-else>{{ talk.values.name }}</template>
    <Sentence of="Line" :fields="LINE" :values="values" :parts="[' · {opener} · ']" @put="put" />
    in
    <EditWord
      :text="talk.values.name"
      label="conversation"
      kind="choice"
      :choices="book.of('conversation').map((c) => ({ value: c.key, label: c.values.name }))"
      @change="moveTo"
    />
    ·
    <NameInCues :record="line" @renamed="follow" />
  </p>
  <h1>“{{ firstWords(values.wordings[0] ?? '', 60) }}”</h1>
  <SectionHead title="Said when" remember="line-needs">
    <TextProse
      :record="line.id"
      field="needs"
      start="needs"
      :self="talk.values.talker"
      :reading="reading?.texts[`${line.id}.needs`]"
      empty="Always, when nothing before it fits."
      label="said when"
    />
  </SectionHead>
  <SectionHead title="Being said" remember="line-said">
    <p class="measure"><Sentence of="Line" :fields="LINE" :values="values" :parts="said" @put="put" /></p>
  </SectionHead>
  <SectionHead title="When it begins" remember="line-steps">
    <TextProse
      :record="line.id"
      field="steps"
      start="steps"
      :self="talk.values.talker"
      :reading="reading?.texts[`${line.id}.steps`]"
      empty="Nothing else happens."
      label="when it begins"
    />
  </SectionHead>
  <SectionHead title="Replies" remember="line-replies">
    <template #note><button class="link" @click="addReply">+ reply</button></template>
    <div v-for="reply in replies" :key="reply.id" class="reply" :data-reply="reply.key">
      <p v-for="(parts, i) in ofAReply(reply)" :key="i">
        <Sentence
          of="Reply"
          :fields="REPLY"
          :values="reply.values"
          :parts="parts"
          @put="(field, value, done) => done && setReply(reply.id, { [field]: value })"
        />
      </p>
      <TextProse
        :record="reply.id"
        field="needs"
        start="needs"
        :self="talk.values.talker"
        :reading="reading?.texts[`${reply.id}.needs`]"
        empty="Always offered."
        label="reply needs"
      />
      <TextProse
        :record="reply.id"
        field="steps"
        start="steps"
        :self="talk.values.talker"
        :reading="reading?.texts[`${reply.id}.steps`]"
        empty="Does nothing else."
        label="reply steps"
      >
        <template #actions><button class="link" @click="removeReply(reply.id)">delete</button></template>
      </TextProse>
    </div>
    <p v-if="!replies.length" class="quiet">None: the talk goes on by itself.</p>
  </SectionHead>
  <SectionHead title="Try it" remember="line-try"><TryIt :talk="talk" /></SectionHead>
  <Problems :problems="reading?.problems ?? []" />
  <FindingsSection :record="line.id" />
  <DeleteLine says="delete this line" @remove="remove" />
</template>

<style scoped>
.reply { padding: 6px 0 6px 12px; border-left: 2px solid var(--rules); margin: 6px 0; }
</style>
