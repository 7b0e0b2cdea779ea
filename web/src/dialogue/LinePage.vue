<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import { usePageReading } from '@/stores/page'
import TryIt from './TryIt.vue'
import { firstWords } from './wording'

const props = defineProps<{ line: RowOf<'line'>; talk: RowOf<'conversation'>; lines: RowOf<'line'>[] }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.line.id)
const values = computed(() => props.line.values)
const replies = computed(() => book.of('reply', props.line.id))
const length = computed(() => Math.max(1.2, (values.value.wordings[0]?.length ?? 0) / 15).toFixed(1))
const onward = computed(() => [{ value: '', label: 'ends the conversation' }, ...props.lines.filter((l) => l.id !== props.line.id).map((l) => ({ value: l.key, label: `“${firstWords(l.values.wordings[0] ?? '', 40)}”` }))])
const replyOnward = computed(() => [...onward.value, { value: 'stays_here', label: 'stays here' }])
const EITHER = (on: string, off: string): { value: string; label: string }[] => [{ value: '1', label: on }, { value: '', label: off }]

function set(change: Record<string, unknown>): void {
  void quietly(book.set(props.line.id, change))
}
function setReply(id: number, change: Record<string, unknown>): void {
  void quietly(book.set(id, change))
}
function shownThen(key: string): string {
  return replyOnward.value.find((o) => o.value === key)?.label ?? key
}
async function remove(clean: boolean): Promise<void> {
  const talk = props.talk.key
  if (await quietly(book.edit([{ do: 'remove', id: props.line.id, clean }]))) void router.replace({ name: 'dialogue', params: { selected: talk } })
}
</script>

<template>
  <p class="small quiet"><router-link class="link" :to="{ name: 'plan', params: { selected: talk.values.talker } }">{{ book.name(talk.values.talker) || talk.values.name }}</router-link> · <EditWord :text="values.opener ? 'opener' : 'line'" label="opener" kind="choice" :choices="EITHER('opener', 'line')" @change="(v) => set({ opener: v === '1' })" /> · <EditWord class="mono" :text="line.key" label="name in cues" kind="text" @change="(v) => quietly(book.edit([{ do: 'set', id: line.id, key: v }]).then(() => router.replace({ params: { selected: v } })))" /></p>
  <h1>“{{ firstWords(values.wordings[0] ?? '', 60) }}”</h1>
  <SectionHead title="Said when" remember="line-needs">
    <TextProse :record="line.id" field="needs" start="needs" :self="talk.values.talker" :reading="reading?.texts[`${line.id}.needs`]" empty="Always, when nothing before it fits." label="said when" />
  </SectionHead>
  <SectionHead title="Being said" remember="line-said">
    <p class="measure">
      Its voice lasts <EditWord :text="values.seconds === null || values.seconds === undefined ? `${length} s by its length` : `${values.seconds} s`" label="voice seconds" kind="number" :value="values.seconds ?? Number(length)" :min="0.1" @change="(v) => set({ seconds: Number(v) || null })" />. <EditWord :text="values.repeat === 'once' ? 'Once only' : 'Every time'" label="repeat" kind="choice" :choices="[{ value: 'every_time', label: 'every time' }, { value: 'once', label: 'once only' }]" @change="(v) => set({ repeat: v })" /><template v-if="values.wordings.length > 1">, its {{ values.wordings.length }} wordings <EditWord :text="values.last_stays ? 'one after another, the last for ever' : 'in turn'" label="wordings" kind="choice" :choices="EITHER('one after another, the last for ever', 'in turn')" @change="(v) => set({ last_stays: v === '1' })" /></template>. Holds the player: <EditWord :text="values.holds_player ? 'yes' : 'no'" label="holds the player" kind="choice" :choices="EITHER('yes', 'no')" @change="(v) => set({ holds_player: v === '1' })" />.
      Then <template v-if="replies.length">it waits for a reply.</template><template v-else><EditWord :text="shownThen(values.then)" label="then" kind="choice" :choices="onward" @change="(v) => set({ then: v })" />.</template>
    </p>
  </SectionHead>
  <SectionHead title="When it begins" remember="line-steps">
    <TextProse :record="line.id" field="steps" start="steps" :self="talk.values.talker" :reading="reading?.texts[`${line.id}.steps`]" empty="Nothing else happens." label="when it begins" />
  </SectionHead>
  <SectionHead title="Replies" remember="line-replies">
    <template #note><button class="link" @click="quietly(book.edit([{ do: 'add', type: 'reply', owner: line.id, values: { wording: 'New reply.' } as never }], 'Added a reply'))">+ reply</button></template>
    <div v-for="reply in replies" :key="reply.id" class="reply" :data-reply="reply.key">
      <p>“<EditWord :text="reply.values.wording" label="reply" kind="text" @change="(v) => setReply(reply.id, { wording: v })" />” then <EditWord :text="shownThen(reply.values.then)" label="then" kind="choice" :choices="replyOnward" @change="(v) => setReply(reply.id, { then: v })" /></p>
      <p class="small quiet">where its needs are not met it is <EditWord :text="reply.values.unmet" label="unmet" kind="choice" :choices="[{ value: 'hidden', label: 'hidden' }, { value: 'greyed', label: 'greyed' }]" @change="(v) => setReply(reply.id, { unmet: v })" /></p>
      <TextProse :record="reply.id" field="needs" start="needs" :self="talk.values.talker" :reading="reading?.texts[`${reply.id}.needs`]" empty="Always offered." label="reply needs" />
      <TextProse :record="reply.id" field="steps" start="steps" :self="talk.values.talker" :reading="reading?.texts[`${reply.id}.steps`]" empty="Does nothing else." label="reply steps"><template #actions><button class="link" @click="quietly(book.edit([{ do: 'remove', id: reply.id }], 'Deleted a reply'))">delete</button></template></TextProse>
    </div>
    <p v-if="!replies.length" class="quiet">None: the talk goes on by itself.</p>
  </SectionHead>
  <SectionHead title="Try it" remember="line-try"><TryIt :talk="talk" /></SectionHead>
  <Problems :problems="reading?.problems ?? []" />
  <DeleteLine says="delete this line" @remove="remove" />
</template>

<style scoped>
.reply { padding: 6px 0 6px 12px; border-left: 2px solid var(--rules); margin: 6px 0; }
</style>
