<script setup lang="ts">
import type { RowOf, Schemas } from '@/api/client'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { asChoices } from '@/parts/choices'
import CueList from '@/page/CueList.vue'
import { useBook } from '@/stores/book'
import { useQuietly } from '@/page/quietly'

const props = defineProps<{ area: RowOf<'area'>; reading: Schemas['PageReading'] | null }>()
const book = useBook()
const { quietly } = useQuietly()
const TINTS = ['sand', 'moss', 'mint', 'water', 'rose', 'stone']
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.area.id, values))
}
</script>

<template>
  <p class="small quiet">an area, <span class="mono">{{ area.key }}</span></p>
  <h1><EditWord :text="area.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="Floor" remember="area-floor">
    <p class="measure">Its floor lies at <EditWord :text="`${area.values.floor_m} m`" label="floor height" kind="number" :value="area.values.floor_m" :step="0.1" @change="(v) => set({ floor_m: Number(v) })" />, drawn in <EditWord :text="area.values.tint" label="tint" kind="choice" :choices="asChoices(TINTS)" @change="(v) => set({ tint: v })" />. A difference of more than 0.4 m to the next area is a wall.</p>
  </SectionHead>
  <CueList :owner="area.id" :self="''" :cues="book.of('cue', area.id)" :reading="reading" title="What happens" :fresh="`when entered ${area.key}\nthen\n  ?`" />
</template>
