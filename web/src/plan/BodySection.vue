<script setup lang="ts">
import { useStorage } from '@vueuse/core'
import { computed, ref } from 'vue'
import { answered, api, type ChangeAsked, type Schemas } from '@/api/client'
import { asKey } from '@/parts/cueNames'
import type { Choice } from '@/parts/choices'
import EditWord from '@/parts/EditWord.vue'
import type { SentencePart } from '@/parts/fields'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import { useQuietly } from '@/page/quietly'
import { counted } from '@/parts/plural'
import { useBook } from '@/stores/book'
import type { Subject } from './designs'
import { BODY, DESIGN, PLACED } from './fields'
import NameList from './NameList.vue'

/** What an object is as a body, and how often it can be used; what is usual folded away. */
const props = defineProps<{ one: Subject }>()
const emit = defineEmits<{
  own: [path: string, value: unknown, done?: boolean]
  row: [values: Record<string, unknown>]
}>()
const book = useBook()
const { quietly } = useQuietly()
const more = useStorage('body-more', false)
const design = computed(() => props.one.design)
const body = computed(() => design.value.body)
const row = computed(() => props.one.row?.values)
const blocks = computed(() => design.value.states.some((s) => s.blocks))
const values = computed(() => Object.entries(design.value.values ?? {}))

/** What is as usual, in grey; what is not is said above it anyway. */
const usual = computed(() => {
  const { cool_down_s, fresh, tags, suspends } = design.value
  return [
    cool_down_s ? `cools down ${cool_down_s} s` : 'no cool-down',
    fresh ? 'fresh each visit' : 'memory kept',
    ...(row.value ? [row.value.there_at_start ? 'there from the start' : 'not there at the start'] : []),
    tags.length ? `tagged ${tags.map((t) => book.name(t)).join(', ')}` : 'no tags',
    ...(suspends.length ? [`suspends ${counted(suspends.length, 'ability')}`] : []),
  ].join(', ')
})
const bodySentence = computed<SentencePart[]>(() => {
  const { shape } = body.value
  if (shape === 'none') return ['It has {shape}']
  const width = shape === 'box' ? '{width_m} × {depth_m}' : '{width_m}'
  return [blocks.value ? 'Blocks as a {shape}' : 'Stands as a {shape}', ` of ${width} m, {height_m} high`]
})
const WALKING: SentencePart[] = ['{#count} at {speed_mps}; it raises nobody’s prompt unless one lets it.']
const putBody = (field: string, value: unknown, done: boolean): void => emit('own', `body.${field}`, value, done)
const put = (field: string, value: unknown, done: boolean): void => emit('own', field, value, done)
const putRow = (field: string, value: unknown, done: boolean): void => {
  if (done) emit('row', { [field]: value })
}

function addStop(): void {
  if (!row.value) return
  const { round, x_m, y_m } = row.value
  const last = round.at(-1) ?? [x_m, y_m]
  const begun = round.length ? round : [last]
  emit('row', { round: [...begun, [Number(last[0]) + 1.5, Number(last[1])]] })
}
/** What each value can be, by the cues that read it, as it was asked for last. */
const asked = ref<Record<string, Schemas['ValueOptions']>>({})
const keyOf = computed(() => props.one.row?.key ?? props.one.kind?.key ?? '')
async function offered(value: string): Promise<Choice[]> {
  const found = answered<Schemas['ValueOptions']>(
    await api.POST('/api/projects/{project}/value-options', {
      params: { path: { project: book.project } },
      body: { this: keyOf.value, value },
    }),
  )
  asked.value = { ...asked.value, [value]: found }
  return found.options
}
function freeOf(value: string): 'number' | 'words' | undefined {
  const found = asked.value[value]
  return found?.words ? 'words' : found?.number ? 'number' : undefined
}
function valueText(value: unknown): string {
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  const text = String(value)
  return text.startsWith('?') ? '…' : typeof value === 'string' && book.named(text) ? book.name(text) : text
}
/** A value as it is kept: a number where it is one, yes and no as such, else a name or words. */
function putValue(key: string, typed: string): void {
  const value = typed === 'yes' ? true : typed === 'no' ? false : /^-?\d+(\.\d+)?$/.test(typed) ? Number(typed) : typed
  emit('own', `values.${key}`, value)
}
/** Makes what was named, and has it for a value from then on. */
async function makeFor(value: string, sort: string, name: string): Promise<void> {
  const key = book.freeKey(asKey(name) || sort)
  const made = { do: 'add', type: sort, key, values: { name } } as Partial<ChangeAsked>
  if (await quietly(book.edit([made], `Added the ${sort} ${name}`))) emit('own', `values.${value}`, key)
}
/** A value that the kind declares from now on; every object of it can have its own. */
function addValue(name: string): void {
  const kind = props.one.kind
  const key = asKey(name)
  if (!kind || !key) return
  const declared = { ...kind.values.design, values: { ...kind.values.design.values, [key]: '?' } }
  void quietly(book.set(kind.id, { design: declared }, `Declared the value ${key} of ${kind.values.name}`))
}
</script>

<template>
  <SectionHead title="Body and use" remember="body">
    <p class="measure">
      <Sentence of="Body" :fields="BODY" :values="body" :parts="bodySentence" at="body" @put="putBody" />
      <Sentence
        v-if="row"
        of="Object"
        :fields="PLACED"
        :values="row"
        :parts="['; turned {turn_deg}, at {x_m}, {y_m} m']"
        @put="putRow"
      />
      <Sentence of="Design" :fields="DESIGN" :values="design" :parts="['. Can be used {uses}. ']" at="" @put="put" />
      <template v-if="more">
        <Sentence
          of="Design"
          :fields="DESIGN"
          :values="design"
          :parts="[
            'After each use it cools down for {cool_down_s}. Its memory is {fresh}. Downed, it {comes_back_s}. ',
          ]"
          at=""
          @put="put"
        />
        <Sentence
          v-if="row"
          of="Object"
          :fields="PLACED"
          :values="row"
          :parts="['At the start it is {there_at_start}. ']"
          @put="putRow"
        />
        Tagged
        <NameList
          type="tag"
          label="tag"
          none="nothing"
          add="+ tag"
          off="Take the tag"
          path="tags"
          :names="design.tags"
          @put="put"
        />. While the player is inside its reach it suspends
        <NameList
          type="ability"
          label="suspended ability"
          none="no ability"
          add="+ ability"
          off="No longer suspend"
          path="suspends"
          :names="design.suspends"
          @put="put"
        />.
        <Sentence
          of="Design"
          :fields="DESIGN"
          :values="design"
          :parts="[' Its sign is {icon}. It {walks}']"
          at=""
          @put="put"
        />
        <template v-if="design.walks && row">
          {{ row.round.length > 1 ? '' : '; it has no round yet' }}.
          <button class="link" @click="addStop">add a way-point</button>
          <template v-if="row.round.length">
            · <button class="link" @click="emit('row', { round: row.round.slice(0, -1) })">take the last away</button>
          </template></template
        ><template v-else>.</template>
      </template>
      <button v-else class="usual quiet" @click="more = true">also usual: {{ usual }}</button>
      <Sentence
        v-if="row && row.round.length > 1"
        of="Design"
        :fields="DESIGN"
        :values="design"
        :parts="WALKING"
        at=""
        @put="put"
      >
        <template #count> Walks a round of {{ row.round.length }} way-points</template>
      </Sentence>
      <template v-for="[key, value] in values" :key="key">
        Its {{ key.replaceAll('_', ' ') }} is
        <EditWord
          :path="`values.${key}`"
          :text="valueText(value)"
          :label="`its ${key}`"
          kind="choice"
          :value="valueText(value)"
          :choices="() => offered(key)"
          :free="freeOf(key)"
          @change="(v) => putValue(key, v)"
          @make="(sort, name) => void makeFor(key, sort, name)"
        />.
      </template>
      <template v-if="more && one.kind">
        {{ ' ' }}<EditWord text="+ value" label="name of a new value" kind="text" value="" @change="addValue" />
      </template>
    </p>
  </SectionHead>
</template>

<style scoped>
.usual { border-bottom: 1px dotted var(--line); }
</style>
