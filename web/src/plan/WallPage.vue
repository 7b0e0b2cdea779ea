<script setup lang="ts">
import type { RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import CornerList from './CornerList.vue'

const props = defineProps<{ wall: RowOf<'wall'> }>()
defineEmits<{ remove: [clean: boolean] }>()
const book = useBook()
const { quietly } = useQuietly()
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.wall.id, values))
}
</script>

<template>
  <p class="small quiet">a wall, <span class="mono">{{ wall.key }}</span></p>
  <h1>Wall</h1>
  <SectionHead title="What it stops" remember="wall">
    <p class="measure">It is <EditWord :text="wall.values.glass ? 'glass: nobody passes, sight does' : 'solid: stops walking and sight'" label="glass" kind="choice" :choices="[{ value: '', label: 'solid: stops walking and sight' }, { value: '1', label: 'glass: nobody passes, sight does' }]" @change="(v) => set({ glass: v === '1' })" /> and <template v-if="wall.values.height_m === null"><EditWord text="reaches the ceiling" label="height" kind="choice" :choices="[{ value: '', label: 'reaches the ceiling' }, { value: '1', label: 'is lower' }]" @change="(v) => set({ height_m: v ? 1 : null })" /></template><template v-else>is <EditWord :text="`${wall.values.height_m} m`" label="height, empty for the ceiling" kind="number" :value="wall.values.height_m ?? 1" :min="0.1" @change="(v) => set({ height_m: v.trim() ? Number(v) : null })" /> high</template>.</p>
  </SectionHead>
  <CornerList :points="wall.values.points" :least="2" @change="(points) => set({ points })" />
  <DeleteLine @remove="(clean) => $emit('remove', clean)" />
</template>
