<script setup lang="ts">
import { computed, onMounted, onUnmounted, ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, RefusedError, type RowOf, type Schemas } from '@/api/client'
import Spread from '@/parts/Spread.vue'
import ThreadShelf from '@/parts/ThreadShelf.vue'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import { usePageReading } from '@/stores/page'
import AddList from './AddList.vue'
import AreaPage from './AreaPage.vue'
import { placed } from './designs'
import type { Point } from './geometry'
import ObjectPage from './ObjectPage.vue'
import PlanDrawing from './PlanDrawing.vue'
import RunningOrder from './RunningOrder.vue'
import { useShowing } from './showing'

const book = useBook()
const live = useLive()
const route = useRoute()
const router = useRouter()
const drawing = ref<InstanceType<typeof PlanDrawing> | null>(null)
const starters = ref<Schemas['StarterShape'][]>([])
const { shown, show } = useShowing()
const adding = ref<{ at: Point; screen: Point; begun: string } | null>(null)

const selected = computed(() => String(route.params.selected ?? ''))
const level = computed(() => book.find('level', book.settings?.values.first_level ?? '') ?? book.of('level')[0])
const kinds = computed(() => new Map(book.of('kind').map((k) => [k.key, k])))
const areas = computed(() => (level.value ? book.of('area', level.value.id) : []))
const walls = computed(() => (level.value ? book.of('wall', level.value.id) : []))
const objects = computed(() => (level.value ? book.of('object', level.value.id).map((o) => placed(o, kinds.value)) : []))
const chosen = computed(() => objects.value.find((o) => o.row.key === selected.value))
const area = computed(() => areas.value.find((a) => a.key === selected.value))
const { reading } = usePageReading(() => chosen.value?.row.id ?? area.value?.id)
const touching = computed(() => [...new Set((reading.value?.touches ?? []).map((t) => t.quest))])

function choose(key: string): void {
  void router.push({ name: 'plan', params: { ...route.params, selected: key }, query: route.query })
}
async function quietly(work: Promise<unknown>): Promise<void> {
  try {
    await work
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
  }
}
function rowOf(key: string): RowOf<'object'> | undefined {
  return book.find('object', key)
}
function change(key: string, values: Record<string, unknown>, done: boolean, name = ''): void {
  const row = rowOf(key)
  if (!row) return
  book.show(row.id, values)
  if (done) void quietly(book.set(row.id, values, name))
}
function own(key: string, path: string, value: unknown, done: boolean): void {
  const row = rowOf(key)
  if (row) change(key, { own: { ...row.values.own, [path]: value } }, done, done ? `Sized the reach of ${row.values.name}` : '')
}
function sizeReach(key: string, size: number, done: boolean): void {
  const one = objects.value.find((o) => o.row.key === key)
  own(key, one?.design.reach.shape === 'box' ? 'reach.width_m' : 'reach.radius_m', size, done)
}
function addAt(at: Point, screen: Point, begun = ''): void {
  adding.value = { at, screen: { x: Math.min(screen.x, window.innerWidth - 350), y: Math.min(screen.y, window.innerHeight - 370) }, begun }
}
async function place(what: { kind: string; starter: string }): Promise<void> {
  const at = adding.value?.at
  adding.value = null
  if (!at || !level.value) return
  try {
    const done = await book.place({ level: level.value.id, x_m: Math.round(at.x * 4) / 4, y_m: Math.round(at.y * 4) / 4, ...what })
    choose(done.select)
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
  }
}
async function duplicate(): Promise<void> {
  const one = chosen.value
  if (!one || !level.value) return
  const row = one.row
  const cues = book.of('cue', row.id)
  const copied = { do: 'add' as const, type: 'object', owner: level.value.id, values: { ...row.values, name: `${row.values.name} (copy)`, x_m: row.values.x_m + 1 } as never }
  const done = await book.edit([copied, ...cues.map((c) => ({ do: 'add' as const, type: 'cue', under: 0, key: c.key, values: { text: c.values.text } }))], `Duplicated ${row.values.name}`)
  const copy = done.rows.find((r) => r.type === 'object')
  if (copy) choose(copy.key)
}
async function remove(clean = false): Promise<void> {
  const row = chosen.value?.row
  if (!row) return
  await quietly(book.edit([{ do: 'remove', id: row.id, clean }]).then(() => choose('')))
}
const NUDGES: Record<string, [number, number]> = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }
let gesture = 0
function onKey(event: KeyboardEvent): void {
  const target = event.target as HTMLElement
  if (target.closest('input, textarea, .right') || event.altKey || event.metaKey) return
  const row = chosen.value?.row
  if (event.ctrlKey) {
    if (event.key.toLowerCase() === 'd' && row) {
      event.preventDefault()
      void quietly(duplicate())
    }
    return
  }
  const nudge = NUDGES[event.key]
  if (nudge && row) {
    event.preventDefault()
    const by = event.shiftKey ? 0.05 : 0.25
    const values = { x_m: Math.round((row.values.x_m + nudge[0] * by) * 1000) / 1000, y_m: Math.round((row.values.y_m + nudge[1] * by) * 1000) / 1000 }
    if (!event.repeat) gesture = Date.now()
    book.show(row.id, values)
    void quietly(book.set(row.id, values, `Moved ${row.values.name}`, `nudge:${row.id}:${gesture}`))
  } else if ((event.key === '[' || event.key === ']') && row) {
    change(row.key, { turn_deg: (row.values.turn_deg + (event.key === '[' ? 15 : -15) + 360) % 360 }, true)
  } else if (event.key === 'Delete' && row) void remove()
  else if (event.key === 'Escape') choose('')
  else if (event.key === '0') drawing.value?.showAll()
  else if (event.key === '+' || event.key === '-') drawing.value?.zoomBy(event.key === '+' ? 1.25 : 0.8)
  else if (/^[a-z]$/i.test(event.key) && !row && drawing.value) {
    event.preventDefault()
    const { at, screen } = drawing.value.middle()
    addAt(at, screen, event.key)
  }
}
onMounted(async () => {
  window.addEventListener('keydown', onKey)
  starters.value = answered<Schemas['StarterShape'][]>(await api.GET('/api/starters'))
})
onUnmounted(() => window.removeEventListener('keydown', onKey))
</script>

<template>
  <Spread>
    <template #left>
      <PlanDrawing v-if="level" ref="drawing" :level="level" :areas="areas" :walls="walls" :objects="objects" :selected="selected" :live="live.reading" :as-if="live.on" :shown="shown" @select="choose" @floor="addAt" @move="(k, at, done) => change(k, { x_m: at.x, y_m: at.y }, done)" @turn="(k, deg, done) => change(k, { turn_deg: deg }, done)" @reach="sizeReach" @start="(at) => quietly(book.set(level!.id, { start_x_m: at.x, start_y_m: at.y }, 'Moved the player start'))" />
      <ThreadShelf :touching="touching" />
      <AddList v-if="adding" :kinds="book.of('kind')" :starters="starters" :begun="adding.begun" :x="adding.screen.x" :y="adding.screen.y" @place="place" @close="adding = null" />
    </template>
    <ObjectPage v-if="chosen" :key="chosen.row.id" :one="chosen" :area="areas" :reading="reading" :live="live.reading?.objects[chosen.row.key]" @duplicate="quietly(duplicate())" @remove="remove" @show="(from, to) => show(chosen!.row.key, chosen!.design, from, to)" />
    <AreaPage v-else-if="area" :key="`a${area.id}`" :area="area" :reading="reading" />
    <RunningOrder v-else-if="level" :level="level" :areas="areas" :objects="objects" :live="live.reading" @select="choose" />
  </Spread>
</template>
