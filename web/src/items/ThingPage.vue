<script setup lang="ts">
import { computed } from 'vue'
import { useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import { usePageReading } from '@/stores/page'
import type { ThingType } from './things'

const props = defineProps<{ thing: RowOf<ThingType> }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.thing.id)
const inUse = computed(() => book.refusal?.problems[0]?.code === 'in_use')

function hear(): void {
  if (props.thing.type === 'sound') void new Audio(`/api/projects/${book.project}/assets/${props.thing.values.file}`).play()
}
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.thing.id, values))
}
async function rename(key: string): Promise<void> {
  if (await quietly(book.edit([{ do: 'set', id: props.thing.id, key }]))) go(key)
}
/** By the router, since this page may be gone by then. */
function go(selected: string): void {
  void router.replace({ name: 'items', params: { selected } })
}
async function remove(clean: boolean): Promise<void> {
  if (await quietly(book.edit([{ do: 'remove', id: props.thing.id, clean }]))) go('')
}
</script>

<template>
  <p class="small quiet">{{ thing.type === 'item' || thing.type === 'ability' ? 'an' : 'a' }} {{ thing.type }}, <EditWord class="mono" :text="thing.key" label="name in cues" kind="text" @change="rename" /></p>
  <h1><EditWord :text="thing.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="What it is" remember="thing">
    <template v-if="thing.type === 'item'">
      <p class="measure"><EditWord :text="thing.values.description || 'no description yet'" label="description" kind="long" :value="thing.values.description" @change="(v) => set({ description: v })" /></p>
      <p>The player can have up to <EditWord :text="String(thing.values.limit)" label="limit" kind="number" :value="thing.values.limit" :step="1" :min="1" :max="999" @change="(v) => set({ limit: Math.round(Number(v)) })" /> and begins with <EditWord :text="String(thing.values.at_start)" label="at start" kind="number" :value="thing.values.at_start" :step="1" :min="0" @change="(v) => set({ at_start: Math.round(Number(v)) })" />.</p>
      <p class="measure">Read: <EditWord :text="thing.values.text || 'it holds no text'" label="text" kind="long" :value="thing.values.text" @change="(v) => set({ text: v })" /></p>
    </template>
    <p v-else-if="thing.type === 'fact'">
      It is a <EditWord :text="thing.values.type === 'yes_no' ? 'yes or no' : 'number'" label="type" kind="choice" :choices="[{ value: 'yes_no', label: 'yes or no' }, { value: 'number', label: 'number' }]" @change="(v) => set({ type: v })" />, at the start <EditWord v-if="thing.values.type === 'yes_no'" :text="thing.values.at_start ? 'yes' : 'no'" label="at start" kind="choice" :choices="[{ value: '0', label: 'no' }, { value: '1', label: 'yes' }]" @change="(v) => set({ at_start: Number(v) })" /><template v-else><EditWord :text="String(thing.values.at_start)" label="at start" kind="number" :value="thing.values.at_start" :step="1" @change="(v) => set({ at_start: Math.round(Number(v)) })" />, from <EditWord :text="String(thing.values.lowest)" label="lowest" kind="number" :value="thing.values.lowest" :step="1" @change="(v) => set({ lowest: Math.round(Number(v)) })" /> to <EditWord :text="String(thing.values.highest)" label="highest" kind="number" :value="thing.values.highest" :step="1" @change="(v) => set({ highest: Math.round(Number(v)) })" /></template>.
    </p>
    <p v-else-if="thing.type === 'ability'" class="measure"><EditWord :text="thing.values.description || 'no description yet'" label="description" kind="long" :value="thing.values.description" @change="(v) => set({ description: v })" /></p>
    <p v-else>It lasts <EditWord :text="`${thing.values.seconds} s`" label="seconds" kind="number" :value="thing.values.seconds" :min="0" @change="(v) => set({ seconds: Number(v) })" />. <button v-if="thing.values.file" class="link" @click="hear">hear it</button><span v-else>No file is chosen yet: in a playtest it is shown by its name.</span></p>
  </SectionHead>
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="thing-uses">
    <UseList v-if="reading" :uses="reading.uses" empty="Nowhere yet." />
  </SectionHead>
  <p class="last small"><button class="link" @click="remove(false)">delete</button><button v-if="inUse" class="link trouble" @click="remove(true)">delete it and leave holes where it is used</button></p>
</template>

<style scoped>
.last { margin-top: 20px; display: flex; gap: 16px; }
</style>
