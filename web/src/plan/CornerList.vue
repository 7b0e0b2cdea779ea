<script setup lang="ts">
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'

/** Corners as numbers: the same that can be dragged on the plan. */
const props = defineProps<{ points: readonly (readonly number[])[]; least: number }>()
const emit = defineEmits<{ change: [points: number[][]] }>()

function put(i: number, axis: 0 | 1, text: string): void {
  const value = Number(text)
  if (Number.isFinite(value)) emit('change', props.points.map((p, n) => (n === i ? (axis ? [p[0] ?? 0, value] : [value, p[1] ?? 0]) : [...p])))
}
</script>

<template>
  <SectionHead title="Corners" :note="String(points.length)" remember="corners">
    <ol>
      <li v-for="(p, i) in points" :key="i"><EditWord :text="`${p[0]}`" :label="`corner ${i + 1} x`" kind="number" :value="p[0] ?? 0" :step="0.25" @change="(v) => put(i, 0, v)" />, <EditWord :text="`${p[1]}`" :label="`corner ${i + 1} y`" kind="number" :value="p[1] ?? 0" :step="0.25" @change="(v) => put(i, 1, v)" /> m <button v-if="points.length > least" class="link small quiet" @click="emit('change', points.filter((_, n) => n !== i).map((q) => [...q]))">remove</button></li>
    </ol>
    <p class="quiet small">Drag a corner on the plan, or the small ring between two to put another in.</p>
  </SectionHead>
</template>

<style scoped>
ol { margin: 0; padding-left: 22px; columns: 2; }
</style>
