<script setup lang="ts">
import { computed } from 'vue'
import type { RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import type { PageReading } from '@/stores/page'

const props = defineProps<{ exit: RowOf<'exit'>; reading: PageReading | null }>()
const emit = defineEmits<{ set: [values: Record<string, unknown>]; remove: [clean: boolean] }>()
const book = useBook()
const { quietly } = useQuietly()
const levels = computed(() => [...book.of('level').map((l) => ({ value: l.key, label: l.values.name })), { value: '', label: 'nowhere' }])
const v = computed(() => props.exit.values)
function number(field: string, text: string): void {
  const value = Number(text)
  if (Number.isFinite(value)) emit('set', { [field]: value })
}
</script>

<template>
  <p class="small quiet">an exit, <EditWord class="mono" :text="exit.key" label="name in cues" kind="text" @change="(k) => quietly(book.edit([{ do: 'set', id: exit.id, key: k }]))" /></p>
  <h1><EditWord :text="v.name" label="name" kind="text" @change="(name) => emit('set', { name })" /></h1>
  <SectionHead title="Where it leads" remember="exit">
    <p class="measure">Whoever walks onto it comes to <EditWord :text="v.to_level ? book.name(v.to_level) : 'nowhere'" label="leads to" kind="choice" :choices="levels" @change="(to) => emit('set', { to_level: to })" /><template v-if="v.to_level"> at <EditWord :text="`${v.to_x_m}`" label="to x" kind="number" :value="v.to_x_m" :step="0.25" @change="(t) => number('to_x_m', t)" />, <EditWord :text="`${v.to_y_m}`" label="to y" kind="number" :value="v.to_y_m" :step="0.25" @change="(t) => number('to_y_m', t)" /> m, facing <EditWord :text="`${v.to_facing_deg}°`" label="facing" kind="number" :value="v.to_facing_deg" :step="15" @change="(t) => number('to_facing_deg', t)" /></template>. At the start it is <EditWord :text="v.open_at_start ? 'open' : 'closed'" label="open at the start" kind="choice" :choices="[{ value: '1', label: 'open' }, { value: '', label: 'closed' }]" @change="(o) => emit('set', { open_at_start: o === '1' })" />; cues can open and close it.</p>
    <p v-if="!v.to_level" class="trouble">⚑ It leads nowhere: nothing happens to who walks onto it. Say above where it leads, or drag its end on the plan.</p>
    <p v-else-if="v.to_level !== '' && !book.find('level', v.to_level)" class="trouble">⚑ There is no such level any more.</p>
  </SectionHead>
  <SectionHead title="Its patch of floor" remember="exit-patch">
    <p class="measure"><EditWord :text="`${v.width_m}`" label="width" kind="number" :value="v.width_m" :min="0.1" @change="(t) => number('width_m', t)" /> × <EditWord :text="`${v.depth_m} m`" label="depth" kind="number" :value="v.depth_m" :min="0.1" @change="(t) => number('depth_m', t)" />, turned <EditWord :text="`${v.turn_deg}°`" label="turn" kind="number" :value="v.turn_deg" :step="15" @change="(t) => number('turn_deg', t)" />, at <EditWord :text="`${v.x_m}`" label="x" kind="number" :value="v.x_m" :step="0.25" @change="(t) => number('x_m', t)" />, <EditWord :text="`${v.y_m}`" label="y" kind="number" :value="v.y_m" :step="0.25" @change="(t) => number('y_m', t)" /> m.</p>
  </SectionHead>
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="exit-uses"><UseList v-if="reading" :uses="reading.uses" empty="No cue opens or closes it." /></SectionHead>
  <DeleteLine @remove="(clean) => emit('remove', clean)" />
</template>
