<script setup lang="ts">
import type { RowOf } from '@/api/client'
import CueList from '@/page/CueList.vue'
import DeleteLine from '@/page/DeleteLine.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import type { PageReading } from '@/stores/page'

const props = defineProps<{ level: RowOf<'level'>; reading: PageReading | null }>()
defineEmits<{ remove: [clean: boolean]; exit: [] }>()
const book = useBook()
const { quietly } = useQuietly()
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.level.id, values))
}
</script>

<template>
  <p class="small quiet">a level, <EditWord class="mono" :text="level.key" label="name in cues" kind="text" @change="(v) => quietly(book.edit([{ do: 'set', id: level.id, key: v }]))" /></p>
  <h1><EditWord :text="level.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="Start" remember="level-start">
    <p class="measure">The player starts at <EditWord :text="`${level.values.start_x_m}`" label="start x" kind="number" :value="level.values.start_x_m" :step="0.25" @change="(v) => set({ start_x_m: Number(v) })" />, <EditWord :text="`${level.values.start_y_m}`" label="start y" kind="number" :value="level.values.start_y_m" :step="0.25" @change="(v) => set({ start_y_m: Number(v) })" /> m, facing <EditWord :text="`${level.values.start_facing_deg}°`" label="start facing" kind="number" :value="level.values.start_facing_deg" :step="15" @change="(v) => set({ start_facing_deg: Number(v) })" />. <template v-if="book.settings?.values.first_level === level.key">A run begins in this level.</template><button v-else class="link" @click="quietly(book.set(book.settings!.id, { first_level: level.key }, `Runs begin in ${level.values.name}`))">let runs begin here</button></p>
  </SectionHead>
  <SectionHead title="Exits" remember="level-exits">
    <template #note><button class="link" @click="$emit('exit')">+ exit</button></template>
    <p v-for="one in book.of('exit', level.id)" :key="one.id"><router-link class="link" :to="{ params: { selected: one.key } }">{{ one.values.name }}</router-link> leads to {{ one.values.to_level ? book.name(one.values.to_level) : 'nowhere yet' }}</p>
    <p v-if="!book.of('exit', level.id).length" class="quiet">No way leads out of it.</p>
  </SectionHead>
  <CueList :owner="level.id" :self="''" :cues="book.of('cue', level.id)" :reading="reading" title="What happens" :fresh="'when started\nthen\n  ?'" />
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="level-uses"><UseList v-if="reading" :uses="reading.uses" empty="No cue, quest or exit names it." /></SectionHead>
  <DeleteLine @remove="(clean) => $emit('remove', clean)" />
</template>
