<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import type { SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import NameInCues from '@/page/NameInCues.vue'
import { AREA } from './fields'
import CueList from '@/page/CueList.vue'
import UseList from '@/page/UseList.vue'
import { useBook } from '@/stores/book'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import CornerList from './CornerList.vue'
import { useQuietly } from '@/page/quietly'
import type { PageReading } from '@/stores/page'

const props = defineProps<{ area: RowOf<'area'>; areas: readonly RowOf<'area'>[]; reading: PageReading | null }>()
defineEmits<{ remove: [clean: boolean] }>()
const book = useBook()
const { quietly } = useQuietly()
const FLOOR: SentencePart[] = [
  'Its floor lies at {floor_m}, drawn in {tint}. ',
  'A difference of more than 0.4 m to the next area is a wall.',
]
const DROP = [
  { value: '', label: 'nobody gets down' },
  { value: '1', label: 'one can drop down, but not climb back' },
]
/** A deeper fall downs whoever falls. */
const DOWNS_M = 3.5
const drops = (lower: RowOf<'area'>): boolean => props.area.values.drops_to.includes(lower.key)
const below = (lower: RowOf<'area'>): number =>
  Math.round((props.area.values.floor_m - lower.values.floor_m) * 100) / 100
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
/** Areas that lie so close meet. */
const TOUCH_M = 0.01
/** Nobody just steps down further than this. */
const STEP_M = 0.4
interface Box {
  left: number
  right: number
  bottom: number
  top: number
}
function boxOf(row: RowOf<'area'>): Box {
  const [xs, ys] = [row.values.outline.map((p) => Number(p[0])), row.values.outline.map((p) => Number(p[1]))]
  return { left: Math.min(...xs), right: Math.max(...xs), bottom: Math.min(...ys), top: Math.max(...ys) }
}
/** Areas beside this one whose floor is so much lower that nobody just steps down. */
const lowers = computed(() => {
  const here = boxOf(props.area)
  const across = (b: Box): boolean => b.left <= here.right + TOUCH_M && b.right >= here.left - TOUCH_M
  const along = (b: Box): boolean => b.bottom <= here.top + TOUCH_M && b.top >= here.bottom - TOUCH_M
  const lower = (a: RowOf<'area'>): boolean => a.values.floor_m < props.area.values.floor_m - STEP_M
  return props.areas.filter((a) => a.id !== props.area.id && lower(a) && across(boxOf(a)) && along(boxOf(a)))
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
  <p class="small quiet">an area, <NameInCues :record="area" /></p>
  <h1><EditWord :text="area.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="Floor" remember="area-floor">
    <p class="measure"><Sentence of="Area" :fields="AREA" :values="area.values" :parts="FLOOR" @put="put" /></p>
    <p v-for="lower in lowers" :key="lower.id" class="measure">
      To {{ lower.values.name }}, {{ below(lower) }} m below,
      <EditWord
        :text="drops(lower) ? DROP[1]!.label : DROP[0]!.label"
        :label="`drop to ${lower.values.name}`"
        kind="choice"
        :choices="DROP"
        @change="drop(lower.key)"
      />{{ drops(lower) && below(lower) > DOWNS_M ? '; so deep that it downs whoever falls' : '' }}.
    </p>
  </SectionHead>
  <CornerList :points="area.values.outline" :least="3" @change="(outline) => set({ outline })" />
  <CueList
    :owner="area.id"
    self=""
    :cues="book.of('cue', area.id)"
    :reading="reading"
    title="What happens"
    :fresh="`when entered ${area.key}\nthen\n  ?`"
  />
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="area-uses">
    <UseList v-if="reading" :uses="reading.uses" empty="No cue, quest or ledge names it." />
  </SectionHead>
  <FindingsSection :record="area.id" />
  <DeleteLine @remove="(clean) => $emit('remove', clean)" />
</template>
