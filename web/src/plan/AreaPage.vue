<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { asChoices } from '@/parts/choices'
import CueList from '@/page/CueList.vue'
import UseList from '@/page/UseList.vue'
import { useBook } from '@/stores/book'
import DeleteLine from '@/page/DeleteLine.vue'
import CornerList from './CornerList.vue'
import { useQuietly } from '@/page/quietly'
import type { PageReading } from '@/stores/page'

const props = defineProps<{ area: RowOf<'area'>; areas: RowOf<'area'>[]; reading: PageReading | null }>()
defineEmits<{ remove: [clean: boolean] }>()
const book = useBook()
const { quietly } = useQuietly()
const TINTS = ['sand', 'moss', 'mint', 'water', 'rose', 'stone']
interface Box { left: number; right: number; bottom: number; top: number }
function boxOf(row: RowOf<'area'>): Box {
  const [xs, ys] = [row.values.outline.map((p) => Number(p[0])), row.values.outline.map((p) => Number(p[1]))]
  return { left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(...ys), top: Math.max(...ys) }
}
/** Areas beside this one whose floor is so much lower that nobody just steps down. */
const lowers = computed(() => {
  const here = boxOf(props.area)
  const beside = (b: Box): boolean => b.left <= here.right + 0.01 && b.right >= here.left - 0.01 && b.bottom <= here.top + 0.01 && b.top >= here.bottom - 0.01
  return props.areas.filter((a) => a.id !== props.area.id && a.values.floor_m < props.area.values.floor_m - 0.4 && beside(boxOf(a)))
})
function drop(key: string): void {
  const now = props.area.values.drops_to
  set({ drops_to: now.includes(key) ? now.filter((k) => k !== key) : [...now, key] })
}
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.area.id, values))
}
</script>

<template>
  <p class="small quiet">an area, <EditWord class="mono" :text="area.key" label="name in cues" kind="text" @change="(k) => quietly(book.edit([{ do: 'set', id: area.id, key: k }]))" /></p>
  <h1><EditWord :text="area.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="Floor" remember="area-floor">
    <p class="measure">Its floor lies at <EditWord :text="`${area.values.floor_m} m`" label="floor height" kind="number" :value="area.values.floor_m" :step="0.1" @change="(v) => set({ floor_m: Number(v) })" />, drawn in <EditWord :text="area.values.tint" label="tint" kind="choice" :choices="asChoices(TINTS)" @change="(v) => set({ tint: v })" />. A difference of more than 0.4 m to the next area is a wall.</p>
    <p v-for="lower in lowers" :key="lower.id" class="measure">To {{ lower.values.name }}, {{ Math.round((area.values.floor_m - lower.values.floor_m) * 100) / 100 }} m below, <EditWord :text="area.values.drops_to.includes(lower.key) ? 'one can drop down, but not climb back' : 'nobody gets down'" :label="`drop to ${lower.values.name}`" kind="choice" :choices="[{ value: '', label: 'nobody gets down' }, { value: '1', label: 'one can drop down, but not climb back' }]" @change="drop(lower.key)" />{{ area.values.drops_to.includes(lower.key) && area.values.floor_m - lower.values.floor_m > 3.5 ? '; so deep that it downs whoever falls' : '' }}.</p>
  </SectionHead>
  <CornerList :points="area.values.outline" :least="3" @change="(outline) => set({ outline })" />
  <CueList :owner="area.id" :self="''" :cues="book.of('cue', area.id)" :reading="reading" title="What happens" :fresh="`when entered ${area.key}\nthen\n  ?`" />
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="area-uses"><UseList v-if="reading" :uses="reading.uses" empty="No cue, quest or ledge names it." /></SectionHead>
  <DeleteLine @remove="(clean) => $emit('remove', clean)" />
</template>
