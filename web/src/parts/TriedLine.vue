<script setup lang="ts">
import { computed } from 'vue'
import { useRoute } from 'vue-router'
import { useQuietly } from '@/page/quietly'
import { useTried } from '@/stores/tried'
import { counted } from './plural'

/** Says after a walk what was tried in it and is not in the project. */
const tried = useTried()
const route = useRoute()
const { quietly } = useQuietly()
const FEW = 2
const words = computed(() => {
  const rest = tried.all.length - FEW
  return [...tried.all.slice(0, FEW).map(tried.words), ...(rest > 0 ? [`${rest} more`] : [])].join(' · ')
})
const there = computed(() => ({
  name: 'playtest',
  params: { project: route.params.project, selected: '' },
  query: { leaf: 'try', from: `${String(route.name)}/${String(route.params.selected ?? '')}` },
}))
</script>

<template>
  <p v-if="tried.all.length" class="tried" role="status">
    <span class="said"
      ><b>{{ counted(tried.all.length, 'value') }} tried in a walk, not in the project</b>: {{ words }}</span
    >
    <span class="gap" />
    <button class="link" @click="quietly(tried.keep(tried.all))">put into the project</button>
    <router-link class="link" :to="there">see in a walk</router-link>
    <button class="link" @click="tried.drop(tried.all)">let go</button>
  </p>
</template>

<style scoped>
.tried {
  display: flex; align-items: baseline; gap: 14px; padding: 2px 16px 4px; background: #fbeed6; flex: none;
  border-bottom: 1px solid var(--rules); font-size: 13.5px;
}
.said { min-width: 0; overflow: hidden; text-overflow: ellipsis; white-space: nowrap; }
.gap { flex: 1; } .link { white-space: nowrap; }
</style>
