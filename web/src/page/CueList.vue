<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import { nextTick, ref } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import { useQuietly } from './quietly'

/** What happens: cues as sentences, those of the kind first. */
const props = defineProps<{
  owner: number
  self: string
  cues: RowOf<'cue'>[]
  kindCues?: RowOf<'cue'>[]
  kindName?: string
  kindUses?: number
  off?: string[]
  reading: Schemas['PageReading'] | null
  title: string
  fresh: string
}>()
defineEmits<{ replace: [key: string, text: string]; off: [key: string, now: boolean] }>()
const book = useBook()
const { quietly } = useQuietly()
const proses = ref<Record<number, InstanceType<typeof TextProse> | null>>({})

const copied = useSessionStorage('copied-cue', '')
/** A cue can be carried to another owner: copied here, pasted there. */
async function copyCue(cue: RowOf<'cue'>): Promise<void> {
  copied.value = cue.values.text
  await navigator.clipboard?.writeText(cue.values.text).catch(() => undefined)
}
async function paste(): Promise<void> {
  await book.edit([{ do: 'add', type: 'cue', owner: props.owner, values: { text: copied.value } }], 'Pasted a cue')
}
/** One place up in the order in which cues are read. */
async function up(cue: RowOf<'cue'>): Promise<void> {
  const i = props.cues.indexOf(cue)
  const [before, at] = [props.cues[i - 2]?.order ?? (props.cues[i - 1]?.order ?? 0) - 1, props.cues[i - 1]?.order]
  if (at !== undefined) await book.edit([{ do: 'set', id: cue.id, order: (before + at) / 2 }], 'Moved a cue up')
}
async function add(): Promise<void> {
  const done = await book.edit([{ do: 'add', type: 'cue', owner: props.owner, values: { text: props.fresh } }], 'Added a cue')
  const made = done.rows.find((r) => r.type === 'cue')
  await nextTick()
  if (made) await proses.value[made.id]?.focusHole()
}
</script>

<template>
  <SectionHead :title="title" remember="cues">
    <template #note><button v-if="copied" class="link" @click="quietly(paste())">paste a cue</button> <button class="link" @click="quietly(add())">+ cue</button></template>
    <p v-if="!cues.length && !kindCues?.length" class="quiet">Nothing happens here yet. <button class="link" @click="quietly(add())">Write the first cue</button></p>
    <div v-for="cue in kindCues ?? []" :key="cue.id" class="cue" :class="{ off: off?.includes(cue.key) }">
      <TextProse :ref="(el) => (proses[cue.id] = el as InstanceType<typeof TextProse> | null)" :record="cue.id" field="text" start="cue" :self="self" :draft="cue.values.draft" :reading="reading?.texts[`${cue.id}.text`]" label="cue">
        <template #actions><span>{{ off?.includes(cue.key) ? 'switched off here' : `of its kind, ${kindName}${(kindUses ?? 0) > 1 ? `: changes all ${kindUses}` : ''}` }}</span><button class="link" @click="$emit('replace', cue.key, cue.values.text)">only here</button><button class="link" @click="$emit('off', cue.key, !off?.includes(cue.key))">{{ off?.includes(cue.key) ? 'switch on' : 'switch off here' }}</button></template>
      </TextProse>
    </div>
    <div v-for="cue in cues" :key="cue.id" class="cue" :data-cue="cue.key">
      <TextProse :ref="(el) => (proses[cue.id] = el as InstanceType<typeof TextProse> | null)" :record="cue.id" field="text" start="cue" :self="self" :draft="cue.values.draft" :reading="reading?.texts[`${cue.id}.text`]" label="cue">
        <template #actions><button v-if="cues.length > 1" class="link" title="Alt+↑: up" @click="quietly(up(cue))">up</button><button class="link" @click="quietly(copyCue(cue))">copy</button><button class="link" @click="quietly(book.edit([{ do: 'remove', id: cue.id }], 'Deleted a cue'))">delete</button></template>
      </TextProse>
    </div>
  </SectionHead>
</template>

<style scoped>
.cue.off { border-left: 3px solid var(--rules); padding-left: 10px; font-style: italic; }
.cue + .cue { margin-top: 10px; padding-top: 8px; border-top: 1px dotted var(--rules); }
</style>
