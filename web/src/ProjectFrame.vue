<script setup lang="ts">
import { useEventListener } from '@vueuse/core'
import { onMounted, provide, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { RefusedError } from '@/api/client'
import AsIfLine from '@/parts/AsIfLine.vue'
import Band from '@/parts/Band.vue'
import { triedAgainIn } from '@/api/connection'
import KeysSheet from '@/parts/KeysSheet.vue'
import OfflineLine from '@/parts/OfflineLine.vue'
import RefusalLine from '@/parts/RefusalLine.vue'
import TriedLine from '@/parts/TriedLine.vue'
import { noteOpen } from '@/projects/lastOpen'
import { useBook } from '@/stores/book'
import { useCards } from '@/stores/cards'
import { useLive } from '@/stores/live'
import { useKeys } from '@/parts/keys'
import { useStepping } from '@/findings/stepping'
import { SEEN } from '@/parts/seen'
import { walkTarget } from '@/parts/walking'

const route = useRoute()
const router = useRouter()
const book = useBook()
const live = useLive()
const cards = useCards()
const ready = ref(false)
const lost = ref('')
const keysShown = ref(false)
const stepping = useStepping()
const band = ref<InstanceType<typeof Band> | null>(null)

provide(SEEN, { now: () => book.editNumber, as: book.asSeenAt })

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
/** Walking works out of a word that is being typed, too. */
function onAnyKey(event: KeyboardEvent): void {
  if (!event.ctrlKey || event.key !== 'Enter') return
  event.preventDefault()
  walk()
}
function onKey(event: KeyboardEvent): void {
  const command = commandOf(event)
  if (!command) return
  event.preventDefault()
  event.stopImmediatePropagation()
  command()
}
function commandOf(event: KeyboardEvent): (() => void) | undefined {
  const key = event.key.toLowerCase()
  if (event.ctrlKey && key === 'z') return () => void turn(event.shiftKey ? 'redo' : 'undo')
  if (event.ctrlKey && key === 'y') return () => void turn('redo')
  if (event.altKey && (key === 'j' || key === 'k')) return () => void stepping.step(key === 'j' ? 1 : -1)
  const card = event.altKey && event.code.startsWith('Digit') ? cards.onDigit(event.code.slice(5)) : undefined
  if (card) return () => void router.push(cards.walkFrom(card, route))
  if (event.ctrlKey || event.metaKey || event.altKey) return undefined
  if (key === '/') return () => band.value?.find()
  if (key === '?') return () => (keysShown.value = !keysShown.value)
  if (key === 'escape' && keysShown.value) return () => (keysShown.value = false)
  return undefined
}
useEventListener(window, 'keydown', onAnyKey)
useKeys({ down: onKey })
/** The address follows names in cues that change: level, page and selection stay. */
watch(
  () => book.renamed,
  () => {
    const now = (part: unknown): string => book.nowCalled(String(part ?? ''))
    const params = { ...route.params, selected: now(route.params.selected) }
    const query = Object.fromEntries(
      Object.entries(route.query).map(([key, value]) => [key, ['level', 'as_if'].includes(key) ? now(value) : value]),
    )
    const same =
      params.selected === String(route.params.selected ?? '') && JSON.stringify(query) === JSON.stringify(route.query)
    if (!same) void router.replace({ name: route.name ?? 'plan', params, query })
  },
)
watch(
  () => route.fullPath,
  () => noteOpen(route),
  { immediate: true },
)
watch(
  () => route.params.project,
  (now, before) => now && now !== before && open(),
)
onMounted(() => void open())
</script>

<template>
  <div class="frame">
    <template v-if="ready">
      <Band ref="band" @walk="walk" @undo="turn('undo')" @redo="turn('redo')" />
      <AsIfLine v-if="live.on && route.name !== 'playtest'" />
      <TriedLine v-if="route.name !== 'playtest'" />
      <OfflineLine v-if="triedAgainIn" :unsaved="book.pending" />
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
