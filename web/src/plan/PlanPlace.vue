<script setup lang="ts">
import { computed, onMounted, ref, watch } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import { answered, api, RefusedError, type RowOf, type Schemas } from '@/api/client'
import Spread from '@/parts/Spread.vue'
import ThreadShelf from '@/parts/ThreadShelf.vue'
import { useQuietly } from '@/page/quietly'
import { useKeys } from '@/parts/keys'
import { spotOf } from '@/parts/walking'
import { useBook } from '@/stores/book'
import { useLive } from '@/stores/live'
import { usePageReading } from '@/stores/page'
import { useTurns } from '@/stores/turns'
import AddList from './AddList.vue'
import AreaPage from './AreaPage.vue'
import { placed } from './designs'
import { useDrawing } from './drawing'
import ExitPage from './ExitPage.vue'
import type { Point } from './geometry'
import GroupPage from './GroupPage.vue'
import KindPage from './KindPage.vue'
import LevelPage from './LevelPage.vue'
import LevelTabs from './LevelTabs.vue'
import { useMeasuring } from './measuring'
import ObjectPage from './ObjectPage.vue'
import { usePlanEdits } from './edits'
import PlanDrawing from './PlanDrawing.vue'
import RunningOrder from './RunningOrder.vue'
import { useShowing } from './showing'
import WallPage from './WallPage.vue'

const book = useBook()
const live = useLive()
const route = useRoute()
const router = useRouter()
const { quietly } = useQuietly()
const { afterwards } = useTurns()
const drawing = ref<InstanceType<typeof PlanDrawing> | null>(null)
const starters = ref<Schemas['StarterShape'][]>([])
const { shown, show } = useShowing()
const adding = ref<{ at: Point; screen: Point; begun: string } | null>(null)
const group = ref(new Set<string>())
const read = ref<Schemas['LevelReading'] | null>(null)
/** Of which level that was read. */
const readOf = ref('')
const overlaps = computed(() => read.value?.overlaps ?? [])
const standing = computed(() => (readOf.value === level.value?.key ? (read.value?.areas ?? null) : null))

/** What the address names, by the name in cues that it has now. */
const selected = computed(() => book.nowCalled(String(route.params.selected ?? '')))
const row = computed(() => book.byKey.get(selected.value))
/** The level of what is selected, else the one in the address, else the first. */
const level = computed(() => {
  const at = row.value
  const own = at?.type === 'level' ? at : at?.owner ? book.rows.get(at.owner) : undefined
  if (own?.type === 'level') return own
  return (
    book.find('level', String(route.query.level ?? '')) ??
    book.find('level', book.settings?.values.first_level ?? '') ??
    book.of('level')[0]
  )
})
const areas = computed(() => (level.value ? book.of('area', level.value.id) : []))
const walls = computed(() => (level.value ? book.of('wall', level.value.id) : []))
const exits = computed(() => (level.value ? book.of('exit', level.value.id) : []))
const objects = computed(() =>
  level.value ? book.of('object', level.value.id).map((o) => placed(o, book.kinds)) : [],
)
const chosen = computed(() => objects.value.find((o) => o.row.key === selected.value))
/** What is shown as selected with a kind: whatever here is placed from it. */
const alike = computed(
  () => new Set(objects.value.filter((o) => o.kind && o.kind.id === row.value?.id).map((o) => o.row.key)),
)
const several = computed(() => objects.value.filter((o) => group.value.has(o.row.key)))
const { reading } = usePageReading(() =>
  row.value && ['object', 'area', 'level', 'exit', 'wall', 'kind'].includes(row.value.type) ? row.value.id : undefined,
)
const touching = computed(() => [...new Set((reading.value?.touches ?? []).map((t) => t.quest))])
const edits = usePlanEdits({
  level: () => level.value,
  objects: () => objects.value,
  chosen: () => chosen.value,
  group: () => several.value,
  select: choose,
})

function choose(key: string, more = false): void {
  if (more && key) {
    const next = new Set(group.value.size ? group.value : selected.value ? [selected.value] : [])
    if (next.has(key)) next.delete(key)
    else next.add(key)
    group.value = next
    if (next.size < 2) go([...next][0] ?? '')
    return
  }
  group.value = new Set()
  go(key)
}
/** The way to what was chosen last: what is opened then would be closed by it. */
let underWay: Promise<unknown> = Promise.resolve()
function go(key: string, at?: Point): void {
  underWay = router.push({
    name: 'plan',
    params: { ...route.params, selected: key },
    query: { ...route.query, level: level.value?.key, spot: at && `${at.x.toFixed(2)},${at.y.toFixed(2)}` },
  })
}
/** A spot of the floor where a walk may begin; nothing is selected meanwhile. */
function stand(at: Point): void {
  group.value = new Set()
  go('', at)
}
const spot = computed(() => {
  const [x, y] = spotOf(route).split(',').map(Number)
  return spotOf(route) && Number.isFinite(x) && Number.isFinite(y) ? { x: x as number, y: y as number } : undefined
})
function frame(keys: string[]): void {
  if (keys.length < 2) return choose(keys[0] ?? '')
  group.value = new Set(keys)
  go('')
}
function toLevel(key: string): void {
  group.value = new Set()
  void router.push({ name: 'plan', params: { ...route.params, selected: '' }, query: { ...route.query, level: key } })
}
watch(
  [level, () => book.editNumber],
  async () => {
    if (!level.value || !book.project) return
    await book.settled()
    const asked = level.value?.key
    await afterwards()
    if (!asked || asked !== level.value?.key) return
    const path = { project: book.project, level: asked }
    const found = await api.GET('/api/projects/{project}/levels/{level}', { params: { path } })
    if (found.response.ok && asked === level.value?.key) {
      read.value = answered<Schemas['LevelReading']>(found)
      readOf.value = asked
    }
  },
  { immediate: true },
)

const draft = useDrawing((drawn) => void quietly(edits.draw(drawn)))
const { measure, begin: beginMeasuring, end: endMeasuring, point } = useMeasuring()
async function addAt(at: Point, screen: Point, begun = ''): Promise<void> {
  await underWay
  adding.value = {
    at,
    screen: { x: Math.min(screen.x, window.innerWidth - 350), y: Math.min(screen.y, window.innerHeight - 370) },
    begun,
  }
}
async function place(what: { kind: string; starter: string }): Promise<void> {
  const at = adding.value?.at
  adding.value = null
  if (!at || !level.value) return
  try {
    const done = await book.place({
      level: level.value.id,
      x_m: Math.round(at.x * 4) / 4,
      y_m: Math.round(at.y * 4) / 4,
      ...what,
    })
    choose(done.select)
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
  }
}
function placeInTheMiddle(kind: string): void {
  if (!drawing.value) return
  adding.value = { ...drawing.value.middle(), begun: '' }
  void place({ kind, starter: '' })
}
/** An exit's end dropped on the name of another level leads to where that level starts. */
function leadAway(id: number, event: PointerEvent): void {
  const key = document.elementFromPoint(event.clientX, event.clientY)?.closest<HTMLElement>('[data-level]')
    ?.dataset.level
  const target = key ? book.find('level', key) : undefined
  if (target)
    void quietly(
      book.set(
        id,
        { to_level: target.key, to_x_m: target.values.start_x_m, to_y_m: target.values.start_y_m },
        `Led an exit to ${target.values.name}`,
      ),
    )
}
function set(id: number, values: Record<string, unknown>, done: boolean): void {
  book.show(id, values)
  if (done) void quietly(book.set(id, values))
}
function setExits(exit: RowOf<'exit'>, values: Record<string, unknown>): void {
  void quietly(book.set(exit.id, values))
}
async function remove(clean = false): Promise<void> {
  if (await quietly(edits.remove(clean, row.value?.id))) choose('')
}
const TOOLS: Record<string, () => void> = {
  Escape: () => choose(''),
  '0': () => drawing.value?.showAll(),
  '+': () => drawing.value?.zoomBy(1.25),
  '-': () => drawing.value?.zoomBy(0.8),
  w: () => drawing.value && draft.begin(drawing.value.middle().at),
  m: beginMeasuring,
  Delete: () => void remove(),
  '[': () => void quietly(edits.turn(15)),
  ']': () => void quietly(edits.turn(-15)),
}
function onKey(event: KeyboardEvent): void {
  if (event.altKey || event.metaKey) return
  if (
    draft.on.value
      ? draft.key(event)
      : measure.value && event.key === 'Escape'
        ? (endMeasuring(), true)
        : controlled(event) || edits.nudge(event)
  ) {
    event.preventDefault()
    return
  }
  if (event.ctrlKey || draft.on.value) return
  const tool = TOOLS[event.key]
  if (tool) tool()
  else if (/^[a-z]$/i.test(event.key) && !row.value && !group.value.size && drawing.value) {
    event.preventDefault()
    const { at, screen } = drawing.value.middle()
    addAt(at, screen, event.key)
  }
}
function controlled(event: KeyboardEvent): boolean {
  if (!event.ctrlKey) return false
  const key = event.key.toLowerCase()
  if (key === 'a') return (frame(objects.value.map((o) => o.row.key)), true)
  if (key !== 'd' || !(chosen.value || several.value.length)) return false
  void quietly(edits.duplicate())
  return true
}
useKeys({ down: onKey })
onMounted(async () => {
  starters.value = answered<Schemas['StarterShape'][]>(await api.GET('/api/starters'))
})
</script>

<template>
  <Spread>
    <template #left>
      <LevelTabs v-if="level" :level="level" @choose="toLevel" @page="(k) => choose(k)" />
      <PlanDrawing
        v-if="level"
        :key="level.id"
        ref="drawing"
        :level="level"
        :areas="areas"
        :walls="walls"
        :exits="exits"
        :objects="objects"
        :selected="selected"
        :group="row?.type === 'kind' ? alike : group"
        :overlaps="overlaps"
        :drawing="draft"
        :measure="measure"
        :live="live.reading"
        :as-if="live.on && !live.waiting"
        :shown="shown"
        :spot="spot"
        @select="choose"
        @marquee="frame"
        @spot="stand"
        @floor="addAt"
        @let-go="edits.letGo"
        @move="(k, by, done, copy) => quietly(edits.move(k, by, done, copy))"
        @own="(path, value, done) => quietly(edits.own(path, value, done))"
        @row="set"
        @away="leadAway"
        @point="(at) => quietly(point(at, book.project, level!.key))"
        @start="(at) => quietly(book.set(level!.id, { start_x_m: at.x, start_y_m: at.y }, 'Moved the player start'))"
      />
      <ThreadShelf :touching="touching" />
      <AddList
        v-if="adding"
        :kinds="book.of('kind')"
        :starters="starters"
        :begun="adding.begun"
        :x="adding.screen.x"
        :y="adding.screen.y"
        @place="place"
        @close="adding = null"
      />
    </template>
    <GroupPage
      v-if="several.length > 1"
      :objects="several"
      @own="(path, value) => quietly(edits.ownAll(path, value))"
      @row="(values) => quietly(edits.setAll(values))"
      @duplicate="quietly(edits.duplicate())"
      @remove="remove"
    />
    <ObjectPage
      v-else-if="chosen"
      :key="chosen.row.id"
      :one="chosen"
      :area="standing?.[chosen.row.key] ?? null"
      :reading="reading"
      :live="live.reading?.objects[chosen.row.key]"
      @duplicate="quietly(edits.duplicate())"
      @remove="remove"
      @show="(from, to) => show(chosen!.row.key, chosen!.design, from, to)"
    />
    <AreaPage
      v-else-if="row?.type === 'area'"
      :key="`a${row.id}`"
      :area="row"
      :areas="areas"
      :reading="reading"
      @remove="remove"
    />
    <WallPage v-else-if="row?.type === 'wall'" :key="`w${row.id}`" :wall="row" @remove="remove" />
    <ExitPage
      v-else-if="row?.type === 'exit'"
      :key="`e${row.id}`"
      :exit="row"
      :reading="reading"
      @set="(v) => setExits(row as RowOf<'exit'>, v)"
      @back="quietly(edits.addBack(row as RowOf<'exit'>))"
      @remove="remove"
    />
    <KindPage
      v-else-if="row?.type === 'kind'"
      :key="`k${row.id}`"
      :kind="row"
      :reading="reading"
      @remove="remove"
      @place="placeInTheMiddle"
    />
    <LevelPage
      v-else-if="row?.type === 'level'"
      :key="`l${row.id}`"
      :level="row"
      :reading="reading"
      @remove="remove"
      @exit="quietly(edits.addExit().then(choose))"
    />
    <RunningOrder
      v-else-if="level"
      :level="level"
      :areas="areas"
      :objects="objects"
      :live="live.reading"
      :standing="standing"
      @select="choose"
    />
  </Spread>
</template>
