<script setup lang="ts">
import { computed } from 'vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { asChoices } from '@/parts/choices'
import type { Placed } from './designs'

const props = defineProps<{ one: Placed }>()
const emit = defineEmits<{ own: [path: string, value: unknown, done?: boolean]; row: [values: Record<string, unknown>] }>()
const body = computed(() => props.one.design.body)
const blocks = computed(() => props.one.design.states.some((s) => s.blocks))
const values = computed(() => Object.entries(props.one.design.values ?? {}))

function number(path: string, text: string, done = true): void {
  const value = Number(text)
  if (Number.isFinite(value)) emit('own', path, value, done)
}
</script>

<template>
  <SectionHead title="Body and use" remember="body">
    <p class="measure">
      {{ body.shape === 'none' ? 'It has' : blocks ? 'Blocks as' : 'Stands as' }} <template v-if="body.shape !== 'none'">a </template><EditWord :text="body.shape === 'none' ? 'no body' : body.shape" label="body shape" kind="choice" :choices="asChoices(['box', 'circle', 'none'])" @change="(v) => emit('own', 'body.shape', v)" /><template v-if="body.shape !== 'none'">
        of <EditWord :text="`${body.width_m}`" label="width" kind="number" :value="body.width_m" :min="0.05" @live="(v) => number('body.width_m', v, false)" @change="(v) => number('body.width_m', v)" /><template v-if="body.shape === 'box'"> × <EditWord :text="`${body.depth_m}`" label="depth" kind="number" :value="body.depth_m" :min="0.05" @live="(v) => number('body.depth_m', v, false)" @change="(v) => number('body.depth_m', v)" /></template> m, <EditWord :text="`${body.height_m} m`" label="height" kind="number" :value="body.height_m" :min="0.05" @change="(v) => number('body.height_m', v)" /> high</template>; turned <EditWord :text="`${one.row.values.turn_deg}°`" label="turn" kind="number" :value="one.row.values.turn_deg" :step="15" @change="(v) => emit('row', { turn_deg: Number(v) || 0 })" />, at <EditWord :text="`${one.row.values.x_m}`" label="x" kind="number" :value="one.row.values.x_m" :step="0.25" @change="(v) => emit('row', { x_m: Number(v) || 0 })" />, <EditWord :text="`${one.row.values.y_m}`" label="y" kind="number" :value="one.row.values.y_m" :step="0.25" @change="(v) => emit('row', { y_m: Number(v) || 0 })" /> m. Can be used <EditWord :text="one.design.uses ? `${one.design.uses} times` : 'any number of times'" label="uses" kind="number" :value="one.design.uses" :step="1" :min="0" @change="(v) => number('uses', v)" />.
      <span v-if="one.row.values.round.length > 1">Walks a round of {{ one.row.values.round.length }} way-points at <EditWord :text="`${one.design.speed_mps} m/s`" label="speed" kind="number" :value="one.design.speed_mps" :min="0.1" :max="20" @change="(v) => number('speed_mps', v)" />; it raises nobody’s prompt.</span>
      <template v-for="[key, value] in values" :key="key"> Its {{ key.replaceAll('_', ' ') }} is <EditWord :text="String(value) === '?' ? '…' : String(value)" :label="`its ${key}`" kind="text" :value="String(value)" @change="(v) => emit('own', `values.${key}`, v)" />.</template>
    </p>
  </SectionHead>
</template>
