<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed } from 'vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { asChoices } from '@/parts/choices'
import { useQuietly } from '@/page/quietly'
import { useBook } from '@/stores/book'
import { ICON_NAMES } from '@/theme/icons'
import type { Subject } from './designs'

const props = defineProps<{ one: Subject }>()
const emit = defineEmits<{ own: [path: string, value: unknown, done?: boolean]; row: [values: Record<string, unknown>] }>()
const body = computed(() => props.one.design.body)
const blocks = computed(() => props.one.design.states.some((s) => s.blocks))
const book = useBook()
const { quietly } = useQuietly()
const more = useStorage('body-more', false)
/** What is as usual, in grey; what is not is said above it anyway. */
const usual = computed(() => [one0.value.cool_down_s ? `cools down ${one0.value.cool_down_s} s` : 'no cool-down', one0.value.fresh ? 'fresh each visit' : 'memory kept', ...(props.one.row ? [props.one.row.values.there_at_start ? 'there from the start' : 'not there at the start'] : []), one0.value.tags.length ? `tagged ${one0.value.tags.map((t) => book.name(t)).join(', ')}` : 'no tags', ...(one0.value.suspends.length ? [`suspends ${one0.value.suspends.length} abilities`] : [])].join(', '))
const one0 = computed(() => props.one.design)
function addStop(): void {
  const values = props.one.row?.values
  if (!values) return
  const round = values.round
  const last = round.at(-1) ?? [values.x_m, values.y_m]
  const begun = round.length ? round : [last]
  emit('row', { round: [...begun, [Number(last[0]) + 1.5, Number(last[1])]] })
}
/** What a value can stand for by name: cues say *its content*, and it is an item, a kind or an object there. */
const things = computed(() => [...book.of('item'), ...book.of('kind'), ...book.of('object'), ...book.of('sound')].map((r) => ({ value: r.key, label: r.values.name })))
function isName(value: unknown): boolean {
  return String(value).startsWith('?') || things.value.some((t) => t.value === value)
}
function valueText(value: unknown): string {
  return String(value).startsWith('?') ? '…' : isName(value) ? book.name(String(value)) : String(value)
}
/** A value that the kind declares from now on; every object of it can have its own. */
function addValue(name: string): void {
  const kind = props.one.kind
  const key = name.trim().toLowerCase().replace(/[^a-z0-9]+/g, '_').replace(/^_+|_+$/g, '')
  if (!kind || !/^[a-z]/.test(key)) return
  const design = { ...kind.values.design, values: { ...kind.values.design.values, [key]: '?' } }
  void quietly(book.set(kind.id, { design }, `Declared the value ${key} of ${kind.values.name}`))
}
const values = computed(() => Object.entries(props.one.design.values ?? {}))

function number(path: string, text: string, done = true): void {
  const value = Number(text)
  if (Number.isFinite(value)) emit('own', path, value, done)
}
</script>

<template>
  <SectionHead title="Body and use" remember="body">
    <p class="measure">
      {{ body.shape === 'none' ? 'It has' : blocks ? 'Blocks as' : 'Stands as' }} <template v-if="body.shape !== 'none'">a </template><EditWord path="body.shape" :text="body.shape === 'none' ? 'no body' : body.shape" label="body shape" kind="choice" :choices="asChoices(['box', 'circle', 'none'])" @change="(v) => emit('own', 'body.shape', v)" /><template v-if="body.shape !== 'none'">
        of <EditWord path="body.width_m" :text="`${body.width_m}`" label="width" kind="number" :value="body.width_m" :min="0.05" @live="(v) => number('body.width_m', v, false)" @change="(v) => number('body.width_m', v)" /><template v-if="body.shape === 'box'"> × <EditWord path="body.depth_m" :text="`${body.depth_m}`" label="depth" kind="number" :value="body.depth_m" :min="0.05" @live="(v) => number('body.depth_m', v, false)" @change="(v) => number('body.depth_m', v)" /></template> m, <EditWord path="body.height_m" :text="`${body.height_m} m`" label="height" kind="number" :value="body.height_m" :min="0.05" @change="(v) => number('body.height_m', v)" /> high</template><template v-if="one.row">; turned <EditWord :text="`${one.row.values.turn_deg}°`" label="turn" kind="number" :value="one.row.values.turn_deg" :step="15" @change="(v) => emit('row', { turn_deg: Number(v) || 0 })" />, at <EditWord :text="`${one.row.values.x_m}`" label="x" kind="number" :value="one.row.values.x_m" :step="0.25" @change="(v) => emit('row', { x_m: Number(v) || 0 })" />, <EditWord :text="`${one.row.values.y_m}`" label="y" kind="number" :value="one.row.values.y_m" :step="0.25" @change="(v) => emit('row', { y_m: Number(v) || 0 })" /> m</template>. Can be used <EditWord path="uses" :text="one.design.uses === 1 ? 'once' : one.design.uses ? `${one.design.uses} times` : 'any number of times'" label="uses" kind="number" :value="one.design.uses" :step="1" :min="0" @change="(v) => number('uses', v)" />.
      <template v-if="more">
        After each use it cools down for <EditWord path="cool_down_s" :text="one.design.cool_down_s ? `${one.design.cool_down_s} s` : 'no time'" label="cool-down seconds" kind="number" :value="one.design.cool_down_s" :min="0" @change="(v) => number('cool_down_s', v)" />. Its memory is <EditWord path="fresh" :text="one.design.fresh ? 'fresh each visit' : 'kept across levels'" label="memory" kind="choice" :choices="[{ value: '', label: 'kept across levels' }, { value: '1', label: 'fresh each visit' }]" @change="(v) => emit('own', 'fresh', v === '1')" />.<template v-if="one.row"> At the start it is <EditWord :text="one.row.values.there_at_start ? 'there' : 'not there yet'" label="at the start" kind="choice" :choices="[{ value: '1', label: 'there' }, { value: '', label: 'not there yet' }]" @change="(v) => emit('row', { there_at_start: v === '1' })" />.</template> Downed, it <EditWord path="comes_back_s" :text="one.design.comes_back_s === null ? 'stays down' : `comes back after ${one.design.comes_back_s} s`" label="comes back after seconds, empty to stay down" kind="number" :value="one.design.comes_back_s ?? ''" :min="0" @change="(v) => emit('own', 'comes_back_s', v.trim() ? Number(v) : null)" />. Tagged <template v-for="t in one.design.tags" :key="t"><button class="word" :aria-label="`Take the tag ${book.name(t)} off`" @click="emit('own', 'tags', one.design.tags.filter((k) => k !== t))">{{ book.name(t) }}</button> </template><EditWord path="tags" :text="one.design.tags.length ? '+ tag' : 'nothing'" label="tag" kind="choice" :choices="book.of('tag').filter((t) => !one.design.tags.includes(t.key)).map((t) => ({ value: t.key, label: t.values.name }))" @change="(v) => v && emit('own', 'tags', [...one.design.tags, v])" />. While the player is inside its reach it suspends <template v-for="a in one.design.suspends" :key="a"><button class="word" :aria-label="`No longer suspend ${book.name(a)}`" @click="emit('own', 'suspends', one.design.suspends.filter((k) => k !== a))">{{ book.name(a) }}</button> </template><EditWord path="suspends" :text="one.design.suspends.length ? '+ ability' : 'no ability'" label="suspended ability" kind="choice" :choices="book.of('ability').filter((a) => !one.design.suspends.includes(a.key)).map((a) => ({ value: a.key, label: a.values.name }))" @change="(v) => v && emit('own', 'suspends', [...one.design.suspends, v])" />. Its sign is <EditWord path="icon" :text="one.design.icon" label="icon" kind="choice" :choices="asChoices(ICON_NAMES)" @change="(v) => emit('own', 'icon', v)" />. It <EditWord path="walks" :text="one.design.walks ? 'walks' : 'stands'" label="walks" kind="choice" :choices="[{ value: '', label: 'stands' }, { value: '1', label: 'walks' }]" @change="(v) => emit('own', 'walks', v === '1')" /><template v-if="one.design.walks && one.row">; <button class="link" @click="addStop">add a way-point</button><template v-if="one.row.values.round.length"> · <button class="link" @click="emit('row', { round: one.row!.values.round.slice(0, -1) })">take the last away</button></template></template>.
      </template>
      <button v-else class="usual quiet" @click="more = true">also usual: {{ usual }}</button>
      <span v-if="one.row && one.row.values.round.length > 1">Walks a round of {{ one.row.values.round.length }} way-points at <EditWord path="speed_mps" :text="`${one.design.speed_mps} m/s`" label="speed" kind="number" :value="one.design.speed_mps" :min="0.1" :max="20" @change="(v) => number('speed_mps', v)" />; it raises nobody’s prompt unless one lets it.</span>
      <template v-for="[key, value] in values" :key="key"> Its {{ key.replaceAll('_', ' ') }} is <EditWord :path="`values.${key}`" :text="valueText(value)" :label="`its ${key}`" :kind="isName(value) ? 'choice' : 'text'" :value="String(value)" :choices="isName(value) ? things : undefined" @change="(v) => emit('own', `values.${key}`, v)" />.</template>
      <template v-if="more && one.kind"> <EditWord text="+ value" label="name of a new value" kind="text" value="" @change="addValue" /></template>
    </p>
  </SectionHead>
</template>

<style scoped>
.usual { border-bottom: 1px dotted var(--line); }
</style>
