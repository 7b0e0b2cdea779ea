<script setup lang="ts">
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'

/** Corners as numbers: the same that can be dragged on the plan. */
const props = defineProps<{ points: readonly (readonly number[])[]; least: number }>()
const emit = defineEmits<{ change: [points: number[][]] }>()

const AXES = [0, 1] as const
function put(i: number, axis: 0 | 1, text: string): void {
  const value = Number(text)
  if (!Number.isFinite(value)) return
  emit('change', props.points.map((p, n) => p.map((old, a) => (n === i && a === axis ? value : old))))
}
function remove(i: number): void {
  emit('change', props.points.filter((_, n) => n !== i).map((q) => [...q]))
}
</script>

<template>
  <SectionHead title="Corners" :note="String(points.length)" remember="corners">
    <ol>
      <li v-for="(p, i) in points" :key="i">
        <template v-for="axis in AXES" :key="axis">
          <EditWord
            :text="`${p[axis]}`"
            :label="`corner ${i + 1} ${'xy'[axis]}`"
            kind="number"
            :value="p[axis] ?? 0"
            :step="0.25"
            @change="(v) => put(i, axis, v)"
          />{{ axis ? ' m ' : ', ' }}
        </template>
        <button v-if="points.length > least" class="link small quiet" @click="remove(i)">remove</button>
      </li>
    </ol>
    <p class="quiet small">Drag a corner on the plan, or the small ring between two to put another in.</p>
  </SectionHead>
</template>

<style scoped>
ol { margin: 0; padding-left: 22px; columns: 2; }
</style>
