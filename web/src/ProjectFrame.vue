<script setup lang="ts">
import { onMounted, onUnmounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { RefusedError } from '@/api/client'
import AsIfLine from '@/parts/AsIfLine.vue'
import Band from '@/parts/Band.vue'
import KeysSheet from '@/parts/KeysSheet.vue'
import RefusalLine from '@/parts/RefusalLine.vue'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import { walkTarget } from '@/parts/walking'

const route = useRoute()
const router = useRouter()
const book = useBook()
const live = useLive()
const ready = ref(false)
const lost = ref('')
const keysShown = ref(false)
const band = ref<InstanceType<typeof Band> | null>(null)

async function open(): Promise<void> {
  ready.value = false
  lost.value = ''
  try {
    await book.open(Number(route.params.project))
    ready.value = true
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
    lost.value = error.refusal.detail
  }
}
function walk(): void {
  void router.push(walkTarget(route, book))
}
async function turn(what: 'undo' | 'redo'): Promise<void> {
  try {
    await book[what]()
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
  }
}
function onKey(event: KeyboardEvent): void {
  const typing = event.target instanceof HTMLElement && event.target.closest('input, textarea, [contenteditable]')
  if (event.ctrlKey && event.key === 'Enter') {
    event.preventDefault()
    walk()
  } else if (event.ctrlKey && event.key.toLowerCase() === 'z' && !typing) {
    event.preventDefault()
    void turn(event.shiftKey ? 'redo' : 'undo')
  } else if (event.ctrlKey && event.key.toLowerCase() === 'y' && !typing) {
    event.preventDefault()
    void turn('redo')
  } else if (!typing && !event.ctrlKey && event.key === '/') {
    event.preventDefault()
    band.value?.find()
  } else if (!typing && event.key === '?') {
    keysShown.value = !keysShown.value
  }
}
watch(() => route.params.project, (now, before) => now && now !== before && open())
onMounted(() => {
  window.addEventListener('keydown', onKey)
  void open()
})
onUnmounted(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <div class="frame">
    <template v-if="ready">
      <Band ref="band" @walk="walk" @undo="turn('undo')" @redo="turn('redo')" />
      <AsIfLine v-if="live.on && route.name !== 'playtest'" />
      <RefusalLine />
      <main><router-view :key="String(route.name)" /></main>
      <KeysSheet v-if="keysShown" :place="String(route.name)" @close="keysShown = false" />
    </template>
    <div v-else-if="lost" class="lost">
      <h1>{{ lost }}</h1>
      <p class="quiet">It may have been deleted. <router-link to="/" class="link">Back to the projects</router-link></p>
    </div>
    <p v-else class="lost quiet">Opening the book …</p>
  </div>
</template>

<style scoped>
.frame { height: 100vh; display: flex; flex-direction: column; }
main { flex: 1; min-height: 0; display: flex; }
.lost { padding: 64px; }
</style>
