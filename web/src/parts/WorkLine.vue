<script setup lang="ts">
import { computed } from 'vue'
import type { LongWork } from './job'

/** How far long work has come, with what stops it. */
const props = defineProps<{ work: LongWork }>()
const at = computed(() => props.work.at.value)
const words = computed(() => {
  const { what = '', done = 0, of = 0 } = at.value ?? {}
  return of > 1 ? `${what}: ${done.toLocaleString('en-GB')} of ${of.toLocaleString('en-GB')}` : what
})
const share = computed(() => (at.value && at.value.of > 1 ? (100 * at.value.done) / at.value.of : null))
</script>

<template>
  <div v-if="at" class="work" role="status">
    <span>{{ words }}</span>
    <v-progress-linear :model-value="share ?? 0" :indeterminate="share === null" aria-label="How far it has come" />
    <button class="link" @click="work.stop()">stop</button>
  </div>
</template>

<style scoped>
.work { display: flex; align-items: center; gap: 12px; padding: 6px 2px; }
.work span { white-space: nowrap; }
</style>
