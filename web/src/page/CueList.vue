<script setup lang="ts">
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
  reading: Schemas['PageReading'] | null
  title: string
  fresh: string
}>()
const book = useBook()
const { quietly } = useQuietly()
const proses = ref<Record<number, InstanceType<typeof TextProse> | null>>({})

async function add(): Promise<void> {
  const done = await book.edit([{ do: 'add', type: 'cue', owner: props.owner, values: { text: props.fresh } }], 'Added a cue')
  const made = done.rows.find((r) => r.type === 'cue')
  await nextTick()
  if (made) await proses.value[made.id]?.focusHole()
}
</script>

<template>
  <SectionHead :title="title" remember="cues">
    <template #note><button class="link" @click="quietly(add())">+ cue</button></template>
    <p v-if="!cues.length && !kindCues?.length" class="quiet">Nothing happens here yet. <button class="link" @click="quietly(add())">Write the first cue</button></p>
    <div v-for="cue in kindCues ?? []" :key="cue.id" class="cue">
      <TextProse :ref="(el) => (proses[cue.id] = el as InstanceType<typeof TextProse> | null)" :record="cue.id" field="text" start="cue" :self="self" :draft="cue.values.draft" :reading="reading?.texts[`${cue.id}.text`]" label="cue">
        <template #actions><span>of its kind, {{ kindName }}{{ (kindUses ?? 0) > 1 ? `: changes all ${kindUses}` : '' }}</span></template>
      </TextProse>
    </div>
    <div v-for="cue in cues" :key="cue.id" class="cue" :data-cue="cue.key">
      <TextProse :ref="(el) => (proses[cue.id] = el as InstanceType<typeof TextProse> | null)" :record="cue.id" field="text" start="cue" :self="self" :draft="cue.values.draft" :reading="reading?.texts[`${cue.id}.text`]" label="cue">
        <template #actions><button class="link" @click="quietly(book.edit([{ do: 'remove', id: cue.id }], 'Deleted a cue'))">delete</button></template>
      </TextProse>
    </div>
  </SectionHead>
</template>

<style scoped>
.cue + .cue { margin-top: 10px; padding-top: 8px; border-top: 1px dotted var(--rules); }
</style>
