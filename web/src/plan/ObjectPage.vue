<script setup lang="ts">
import { computed, provide, ref, watch } from 'vue'
import { useRouter, type RouteLocationRaw } from 'vue-router'
import type { ChangeAsked, RowOf, Schemas } from '@/api/client'
import Badge from '@/parts/Badge.vue'
import EditWord from '@/parts/EditWord.vue'
import { AMISS } from '@/parts/amiss'
import { OWN_VALUES } from '@/parts/own'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import CueList from '@/page/CueList.vue'
import InVain from '@/page/InVain.vue'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import { useAmissOf } from '@/findings/asked'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import { useBook } from '@/stores/book'
import { beadPath, STRANDS } from '@/parts/beads'
import BodySection from './BodySection.vue'
import type { Placed } from './designs'
import { pathWords, spoken, valueAt } from './designs'
import PromptSection from './PromptSection.vue'
import StatesSection from './StatesSection.vue'
import TalkSection from './TalkSection.vue'
import type { PageReading } from '@/stores/page'
import { counted } from '@/parts/plural'

const props = defineProps<{
  one: Placed
  /** The name in cues of the area it stands in, empty for none; null while that is not known yet. */
  area: string | null
  reading: PageReading | null
  live: Schemas['LiveObject'] | undefined
}>()
const emit = defineEmits<{ duplicate: []; remove: [clean: boolean]; show: [from: string, to: string] }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const usesShown = ref(false)
const cues = ref<InstanceType<typeof CueList> | null>(null)
/** Said by the prompt as well, where a change of it has just brought it about. */
const mendable = computed(() => (props.reading?.in_vain ?? []).filter((v) => v.instead))

const row = computed(() => props.one.row)
/** Where it stands, in words; nothing until the plan has said so. */
const here = computed(() => {
  if (props.area === null) return ''
  return props.area ? ` in the ${book.name(props.area)}` : ', on no floor'
})
const ownPaths = computed(() => Object.keys(row.value.values.own))
const alike = computed(() => book.of('object').filter((o) => o.values.kind === row.value.values.kind).length)
const uses = computed(() => props.reading?.uses ?? [])

/** What is changed for all of its kind, by choice; else, as usual, for this one. */
const forAll = ref(false)
watch(
  () => row.value.id,
  () => (forAll.value = false),
)
function forKind(path: string, value: unknown, done: boolean): void {
  const kind = props.one.kind
  if (!kind) return
  const values = { [path]: value }
  book.showInDesign(kind.id, values)
  if (done)
    void quietly(book.setInDesign(kind.id, values, `Changed ${words(path)} of the kind ${kind.values.name}`))
}
function own(path: string, value: unknown, done = true): void {
  if (forAll.value && props.one.kind && !covering(path)) return forKind(path, value, done)
  const values = { own: { ...row.value.values.own, [path]: value } }
  book.showInDesign(row.value.id, { [path]: value })
  if (done) void quietly(book.set(row.value.id, values, `Changed ${words(path)} of ${row.value.values.name}`))
}
function words(path: string): string {
  return `the ${pathWords(path)}`
}
function addButton(path: string, buttons: unknown[], text: string): void {
  const own = { ...row.value.values.own, [path]: buttons }
  void quietly(
    book.edit(
      [
        { do: 'set', id: row.value.id, values: { own } as never },
        { do: 'add', type: 'cue', owner: row.value.id, values: { text } },
      ],
      'Added a button',
    ),
  )
}
function back(path: string): void {
  const { [path]: _gone, ...rest } = row.value.values.own
  void _gone
  void quietly(
    book.set(row.value.id, { own: rest }, `Put ${words(path)} of ${row.value.values.name} back to the kind’s`),
  )
}
function push(path: string): void {
  const kind = props.one.kind
  if (!kind) return
  const { [path]: value, ...rest } = row.value.values.own
  void quietly(
    book.edit(
      [
        { do: 'set_in_design', id: kind.id, values: { [path]: value } },
        { do: 'set', id: row.value.id, values: { own: rest } as never },
      ],
      `Made ${words(path)} the kind’s`,
    ),
  )
}
const ofKind = (path: string): string =>
  props.one.kind ? spoken(valueAt(props.one.kind.values.design, path), (k) => book.name(k), path) : ''
const covering = (path: string): string => ownPaths.value.find((p) => path === p || path.startsWith(`${p}.`)) ?? ''
const choose = (all: boolean): void => {
  forAll.value = all
}
provide(
  OWN_VALUES,
  computed(() => ({
    covering,
    ofKind,
    back,
    push,
    alike: props.one.kind ? alike.value : 0,
    forAll: forAll.value,
    choose,
  })),
)
/** The holder of the states: the kind, or the object where it has states of its own. */
const stateOwner = computed(() =>
  'states' in row.value.values.own || !props.one.kind ? row.value.id : props.one.kind.id,
)
provide(AMISS, useAmissOf(() => row.value.id))
function renameState(state: string, to: string, name: string): void {
  void quietly(book.edit([{ do: 'rename_state', id: stateOwner.value, values: { state, to, name } as never }]))
}
function dropState(state: string): void {
  void quietly(book.edit([{ do: 'remove_state', id: stateOwner.value, values: { state } as never }]))
}
const ownKeys = computed(() => new Set(book.of('cue', row.value.id).map((c) => c.key)))
const kindCues = computed(() =>
  props.one.kind ? book.of('cue', props.one.kind.id).filter((c) => !ownKeys.value.has(c.key)) : [],
)
const kindKeys = computed(() => (props.one.kind ? book.of('cue', props.one.kind.id).map((c) => c.key) : []))
/** An own cue becomes its kind's, and all of the kind have it. */
function pushCue(cue: RowOf<'cue'>): void {
  const theirs = props.one.kind && book.of('cue', props.one.kind.id).find((c) => c.key === cue.key)
  if (!theirs) return
  const { text, draft } = cue.values
  const changes: Partial<ChangeAsked>[] = [
    { do: 'set', id: theirs.id, values: { text, draft } as never },
    { do: 'remove', id: cue.id },
  ]
  void quietly(book.edit(changes, 'Made a cue the kind’s'))
}
function switchOff(key: string, now: boolean): void {
  const off = row.value.values.cues_off
  const cues_off = now ? [...off, key] : off.filter((k) => k !== key)
  void quietly(
    book.set(row.value.id, { cues_off }, now ? 'Switched a cue of the kind off' : 'Switched a cue of the kind on'),
  )
}
/** A kind of what the object is now; the object is of it from then on, with nothing of its own. */
async function toKind(): Promise<void> {
  const order = new Map((props.reading?.cues ?? []).map((id, place) => [id, place]))
  const all = [
    ...kindCues.value.filter((c) => !row.value.values.cues_off.includes(c.key)),
    ...book.of('cue', row.value.id),
  ]
  const cues = all
    .map((c, i) => ({ c, at: order.get(c.id) ?? order.size + i }))
    .sort((a, b) => a.at - b.at)
    .map((one) => one.c)
  const name = row.value.values.name.toLowerCase()
  const taken = new Set(cues.map((c) => c.key)).size !== cues.length
  const kindKey = `${row.value.key}_kind`.slice(0, 58)
  let key = kindKey
  for (let n = 2; book.byKey.has(key); n++) key = `${kindKey}_${n}`
  await book.edit(
    [
      {
        do: 'add',
        type: 'kind',
        key,
        values: { name, starter: props.one.kind?.values.starter ?? '', design: props.one.design } as never,
      },
      ...cues.map((c, i) => ({
        do: 'add' as const,
        type: 'cue',
        under: 0,
        key: taken ? `c${i + 1}` : c.key,
        values: { text: c.values.text },
      })),
      ...book.of('cue', row.value.id).map((c) => ({ do: 'remove' as const, id: c.id })),
      { do: 'set', id: row.value.id, values: { kind: key, own: {}, cues_off: [] } as never },
    ],
    `Made a kind of ${row.value.values.name}`,
  )
}
function answer(key: string): void {
  void quietly(
    book.set(
      row.value.id,
      { carried: { ...row.value.values.carried, [key]: 'right' } },
      'Looked at what was carried over',
    ),
  )
}
/** Opens the word that was carried over. */
function change(key: string): void {
  const [what, rest = ''] = [key.split('/')[0], key.slice(key.indexOf('/') + 1)]
  const place =
    what === 'cue'
      ? `[data-cue="${rest.split('/')[0]}"] .word.step`
      : `[aria-label="its ${rest.replace('values.', '')}"]`
  document.querySelector<HTMLElement>(place)?.click()
}
function clear(place: string): void {
  void quietly(book.edit([{ do: 'clear_carried', id: row.value.id, values: { place } as never }]))
}
function questOf(key: string): { name: string; bead: string; strand: number } {
  const all = book.of('quest')
  const strand = all.findIndex((q) => q.key === key)
  return { name: all[strand]?.values.name ?? key, bead: all[strand]?.values.bead ?? 'circle', strand }
}
function leadsTo(touch: Schemas['TouchedStage']): RouteLocationRaw {
  return { name: 'quests', params: { selected: `${touch.quest}.${touch.stage}` } }
}
function stageName(quest: string, stage: string): string {
  const owner = book.find('quest', quest)
  return book.of('stage', owner?.id).find((s) => s.key === stage)?.values.name ?? stage
}
</script>

<template>
  <header class="head">
    <Badge :icon="one.design.icon" />
    <div class="who">
      <h1>
        <EditWord
          :text="row.values.name"
          label="name"
          kind="text"
          @change="(v) => quietly(book.set(row.id, { name: v }))"
        />
      </h1>
      <p class="quiet small">
        a
        <EditWord
          :text="one.kind?.values.name ?? 'thing without a kind'"
          label="kind"
          kind="choice"
          :choices="book.of('kind').map((k) => ({ value: k.key, label: k.values.name }))"
          @change="(v) => quietly(book.set(row.id, { kind: v }))"
        />{{ here }},
        <button class="link" @click="usesShown = !usesShown">used by {{ reading ? uses.length : '…' }}</button> ·
        <EditWord
          :text="row.key"
          label="name in cues"
          kind="text"
          class="mono"
          @change="
            (v) =>
              quietly(
                book.edit([{ do: 'set', id: row.id, key: v }]).then(() => router.replace({ params: { selected: v } })),
              )
          "
        />
      </p>
      <UseList v-if="usesShown" class="small" :uses="uses" empty="Nothing else names it." />
    </div>
    <p class="quiet small right-side">
      {{ ownPaths.length ? counted(ownPaths.length, 'value') : 'all values' }}<br /><template v-if="ownPaths.length"
        >of its own</template
      ><router-link
        v-if="one.kind"
        v-tooltip="'The page of its kind'"
        class="link"
        :to="{ name: 'plan', params: { selected: one.kind.key } }"
        >{{ ownPaths.length ? ', see its kind' : 'of its kind' }}</router-link
      ><template v-else-if="!ownPaths.length">as usual</template>
    </p>
  </header>
  <SectionHead
    v-if="reading?.carried.length"
    title="Carried over"
    :note="`${reading.carried.length} to look at`"
    remember="carried"
  >
    <ul class="own carried">
      <li v-for="one2 in reading.carried" :key="one2.key">
        <span>{{ one2.text }}</span> <button class="link small" @click="answer(one2.key)">right as it is</button>
        <button class="link small" @click="change(one2.key)">change</button>
        <button class="link small" @click="clear(one2.key)">clear</button>
      </li>
    </ul>
  </SectionHead>
  <PromptSection :one="one" :live="live" @own="own" @button="addButton">
    <InVain :cues="mendable" @mend="(vain) => cues?.mend(vain)" />
  </PromptSection>
  <BodySection :one="one" @own="own" @row="(v) => quietly(book.set(row.id, v))" />
  <StatesSection
    :one="one"
    :now="live?.state ?? ''"
    @own="own"
    @show="(from, to) => emit('show', from, to)"
    @rename="renameState"
    @drop="dropState"
  />
  <CueList
    ref="cues"
    :owner="row.id"
    :self="row.key"
    :cues="book.of('cue', row.id)"
    :kind-cues="kindCues"
    :kind-keys="kindKeys"
    :order="reading?.cues"
    :off="row.values.cues_off"
    :kind-name="one.kind?.values.name"
    :reading="reading"
    title="What happens"
    :fresh="'when used\nthen\n  ?'"
    @push="pushCue"
    @off="switchOff"
  />
  <TalkSection :thing="row" />
  <FindingsSection :record="row.id" />
  <SectionHead v-if="reading?.touches.length" title="Threads" remember="threads">
    <ul class="threads">
      <li v-for="(touch, i) in reading.touches" :key="i">
        <svg width="22" height="22" viewBox="-11 -11 22 22" aria-hidden="true">
          <path
            :d="beadPath(questOf(touch.quest).bead)"
            fill="none"
            :stroke="STRANDS[questOf(touch.quest).strand % STRANDS.length]"
            stroke-width="3"
          />
        </svg>
        <span v-if="touch.how === 'moves'">
          Moves <router-link class="link" :to="leadsTo(touch)">{{ questOf(touch.quest).name }}</router-link>
          {{ touch.text }} to <b>“{{ stageName(touch.quest, touch.stage) }}”</b>.
        </span>
        <span v-else>
          Becomes possible at <b>“{{ stageName(touch.quest, touch.stage) }}”</b> of
          <router-link class="link" :to="leadsTo(touch)">{{ questOf(touch.quest).name }}</router-link>.
        </span>
      </li>
    </ul>
  </SectionHead>
  <SectionHead v-if="ownPaths.length" title="Of its own" remember="own">
    <ul class="own">
      <li v-for="path in ownPaths" :key="path">
        <span>{{ pathWords(path) }}: {{ spoken(row.values.own[path], (k) => book.name(k), path) }}</span>
        <span v-if="one.kind" class="quiet small">the kind has {{ ofKind(path) }}</span>
        <button class="link small" @click="back(path)">back to the kind’s</button>
        <button v-if="one.kind" class="link small" @click="push(path)">make it the kind’s</button>
      </li>
    </ul>
  </SectionHead>
  <Problems :problems="(reading?.problems ?? []).filter((p) => p.code !== 'cue_hole')" />
  <DeleteLine @remove="(clean) => emit('remove', clean)"
    ><button v-tooltip="'Ctrl+D'" class="link" @click="emit('duplicate')">duplicate</button>
    <button class="link" @click="quietly(toKind())">make a kind of it</button>
    <button
      v-if="ownPaths.length || row.values.cues_off.length"
      class="link"
      @click="
        quietly(book.set(row.id, { own: {}, cues_off: [] }, `Put everything of ${row.values.name} back to the kind’s`))
      "
    >
      everything back to the kind’s
    </button></DeleteLine
  >
</template>

<style scoped>
.head {
  display: flex; gap: 14px; align-items: flex-start; position: sticky; top: -20px; background: var(--page);
  padding: 6px 0 4px 14px; margin-left: -14px; z-index: 5;
}
.who { flex: 1; min-width: 0; }
.who h1, .who p { overflow-wrap: anywhere; }
.right-side { text-align: right; white-space: nowrap; line-height: 1.5; }
.threads, .own { list-style: none; padding: 0; margin: 0; }
.threads li { display: flex; gap: 8px; align-items: center; }
.own li {
  display: flex; flex-wrap: wrap; gap: 2px 12px; align-items: baseline; border-left: 3px solid var(--ink);
  padding-left: 10px; margin: 3px 0;
}
</style>
