<script setup lang="ts">
import { useSessionStorage } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import { textChange, toClipboard, type TextPlace } from '@/parts/pieces'
import ForWhom from '@/parts/ForWhom.vue'
import { useOwnValues } from '@/parts/own'
import SectionHead from '@/parts/SectionHead.vue'
import TextProse from '@/parts/TextProse.vue'
import { useBook } from '@/stores/book'
import InVain from './InVain.vue'
import { useQuietly } from './quietly'
import type { PageReading } from '@/stores/page'
import { follow } from '@/parts/dragging'

/** What happens: cues as sentences, those of the kind first. */
const props = defineProps<{
  owner: number
  self: string
  cues: readonly RowOf<'cue'>[]
  kindCues?: readonly RowOf<'cue'>[]
  /** The order in which all are read, by id; those not read yet come last. */
  order?: number[]
  kindName?: string
  /** The names of the kind's cues, those replaced by own ones among them. */
  kindKeys?: string[]
  off?: string[]
  reading: PageReading | null
  title: string
  fresh: string
}>()
const inOrder = computed(() => {
  const all = [...(props.kindCues ?? []), ...props.cues]
  const places = new Map((props.order ?? []).map((id, place) => [id, place]))
  return all
    .map((cue, i) => ({ cue, at: places.get(cue.id) ?? places.size + i }))
    .sort((a, b) => a.at - b.at)
    .map((one) => one.cue)
})
const inVain = computed(() => props.reading?.in_vain ?? [])
const isOwn = (cue: RowOf<'cue'>): boolean => cue.owner === props.owner
/** Cues that wait in vain are written anew, in one edit; those of the kind as whatever else is changed in them. */
async function mend(vain: Schemas['InVainShape'][]): Promise<void> {
  const changes = vain.flatMap(({ cue: id, instead: text }) => {
    const cue = inOrder.value.find((c) => c.id === id)
    if (!cue) return []
    const instead = isOwn(cue) || owns?.value.forAll ? {} : { instead: { owner: props.owner, key: cue.key } }
    const place: TextPlace = { record: id, field: 'text', start: 'cue', ...instead }
    return [textChange(place, { text }, cue.values)]
  })
  await book.edit(changes, 'Changed a cue with its prompt')
}
defineExpose({ mend: (vain: Schemas['InVainShape'][]) => void quietly(mend(vain)) })
defineEmits<{ push: [cue: RowOf<'cue'>]; off: [key: string, now: boolean] }>()
const owns = useOwnValues()
/** Whether an own cue stands in the place of one of the kind's. */
const replaces = (cue: RowOf<'cue'>): boolean => props.kindKeys?.includes(cue.key) ?? false
async function remove(cue: RowOf<'cue'>, name: string): Promise<void> {
  await book.edit([{ do: 'remove', id: cue.id }], name)
}
const book = useBook()
const { quietly } = useQuietly()
const proses = ref<Record<string, InstanceType<typeof TextProse> | null>>({})

const copied = useSessionStorage('copied-cue', '')
/** A cue can be carried to another owner: copied here, pasted there. */
async function copyCue(cue: RowOf<'cue'>): Promise<void> {
  copied.value = cue.values.text
  await toClipboard(cue.values.text)
}
async function paste(): Promise<void> {
  await book.edit([{ do: 'add', type: 'cue', owner: props.owner, values: { text: copied.value } }], 'Pasted a cue')
}
/** To another place in the order in which cues are read, counted without the cue itself. */
async function moveTo(cue: RowOf<'cue'>, place: number): Promise<void> {
  const others = props.cues.filter((c) => c.id !== cue.id)
  const [before, after] = [others[place - 1]?.order, others[place]?.order]
  if (place < 0 || place > others.length || place === props.cues.indexOf(cue)) return
  const order = before === undefined ? (after ?? 0) - 1 : after === undefined ? before + 1 : (before + after) / 2
  await book.edit([{ do: 'set', id: cue.id, order }], 'Moved a cue')
}
const dragged = ref(0)
const target = ref({ id: 0, after: false })
/** Dragging a cue by its margin; it goes where the bar shows. */
function drag(event: PointerEvent, cue: RowOf<'cue'>): void {
  event.preventDefault()
  dragged.value = cue.id
  const move = (e: PointerEvent): void => {
    const under = document.elementFromPoint(e.clientX, e.clientY)?.closest<HTMLElement>('[data-cue-id]')
    const box = under?.getBoundingClientRect()
    target.value = { id: Number(under?.dataset.cueId ?? 0), after: !!box && e.clientY > box.top + box.height / 2 }
  }
  const cancel = (): void => {
    dragged.value = 0
    target.value = { id: 0, after: false }
  }
  const end = (): void => {
    const others = props.cues.filter((c) => c.id !== cue.id)
    const at = others.findIndex((c) => c.id === target.value.id)
    if (at >= 0) void quietly(moveTo(cue, at + (target.value.after ? 1 : 0)))
    cancel()
  }
  follow({ move, end, cancel })
}
function onCueKey(event: KeyboardEvent, cue: RowOf<'cue'>): void {
  const by = event.altKey && event.shiftKey ? { ArrowUp: -1, ArrowDown: 1 }[event.key] : undefined
  if (!by) return
  event.preventDefault()
  void quietly(moveTo(cue, props.cues.indexOf(cue) + by))
}
async function add(): Promise<void> {
  const done = await book.edit(
    [{ do: 'add', type: 'cue', owner: props.owner, values: { text: props.fresh } }],
    'Added a cue',
  )
  const made = done.rows.find((r) => r.type === 'cue')
  await nextTick()
  if (made) await proses.value[made.key]?.focusHole()
}
</script>

<template>
  <SectionHead :title="title" remember="cues">
    <template #note>
      <template v-if="copied"><button class="link" @click="quietly(paste())">paste a cue</button>{{ ' ' }}</template>
      <button class="link" @click="quietly(add())">+ cue</button>
    </template>
    <p v-if="!cues.length && !kindCues?.length" class="quiet">
      Nothing happens here yet. <button class="link" @click="quietly(add())">Write the first cue</button>
    </p>
    <template v-for="cue in inOrder" :key="cue.key">
      <div
        class="cue"
        :class="{
          off: off?.includes(cue.key),
          dragged: dragged === cue.id,
          before: target.id === cue.id && !target.after,
          after: target.id === cue.id && target.after,
        }"
        :data-cue="cue.key"
        :data-cue-id="isOwn(cue) ? cue.id : undefined"
        @keydown="(e) => isOwn(cue) && onCueKey(e, cue)"
      >
        <span
          v-if="isOwn(cue) && cues.length > 1"
          v-tooltip="'Drag it to another place · Alt+Shift+↑ ↓'"
          class="margin"
          @pointerdown="(e) => drag(e, cue)"
        />
        <TextProse
          :ref="(el) => (proses[cue.key] = el as InstanceType<typeof TextProse> | null)"
          :record="cue.id"
          field="text"
          start="cue"
          :self="self"
          :draft="cue.values.draft"
          :reading="reading?.texts[`${cue.id}.text`]"
          :instead="isOwn(cue) || owns?.forAll ? undefined : { owner, key: cue.key }"
          label="cue"
        >
          <template v-if="isOwn(cue)" #actions>
            <span v-if="replaces(cue)">its own, in place of the kind’s</span>
            <button
              v-if="cues.length > 1"
              v-tooltip="'Read it earlier · Alt+Shift+↑'"
              class="link"
              @click="quietly(moveTo(cue, cues.indexOf(cue) - 1))"
            >
              up
            </button>
            <button class="link" @click="quietly(copyCue(cue))">copy</button>
            <template v-if="replaces(cue)">
              <button class="link" @click="quietly(remove(cue, 'Put a cue back to the kind’s'))">
                back to the kind’s
              </button>
              <button class="link" @click="$emit('push', cue)">make it the kind’s</button>
            </template>
            <button v-else class="link" @click="quietly(remove(cue, 'Deleted a cue'))">delete</button>
          </template>
          <template v-else #actions>
            <span>{{ off?.includes(cue.key) ? 'switched off here' : `of its kind, ${kindName}` }}</span>
            <ForWhom v-if="!off?.includes(cue.key)" />
            <button class="link" @click="$emit('off', cue.key, !off?.includes(cue.key))">
              {{ off?.includes(cue.key) ? 'switch on' : 'switch off here' }}
            </button>
          </template>
        </TextProse>
        <InVain :cues="inVain.filter((v) => v.cue === cue.id)" @mend="(vain) => quietly(mend(vain))" />
      </div>
    </template>
  </SectionHead>
</template>

<style scoped>
.cue.off { border-left: 3px solid var(--rules); padding-left: 10px; font-style: italic; }
.cue { position: relative; }
.margin { position: absolute; left: -16px; top: 4px; bottom: 4px; width: 12px; cursor: grab; touch-action: none; }
.margin::after {
  content: ''; position: absolute; left: 5px; top: 0; bottom: 0; width: 3px; border-radius: 2px;
  background: var(--line); opacity: 0; transition: opacity 120ms;
}
.cue:hover > .margin::after, .cue.dragged > .margin::after { opacity: 1; }
.cue.dragged { background: var(--shade); }
.cue.before { box-shadow: 0 -3px 0 0 var(--ink); } .cue.after { box-shadow: 0 3px 0 0 var(--ink); }
.cue + .cue { margin-top: 10px; padding-top: 8px; border-top: 1px dotted var(--rules); }
</style>
