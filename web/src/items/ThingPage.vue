<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Problem, RowOf } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import { useQuietly } from '@/page/quietly'
import UseList from '@/page/UseList.vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import Problems from '@/parts/Problems.vue'
import TextProse from '@/parts/TextProse.vue'
import { asChoices } from '@/parts/choices'
import { placed } from '@/plan/designs'
import { ICON_NAMES } from '@/theme/icons'
import { problemsOf, useBook } from '@/stores/book'
import { usePageReading } from '@/stores/page'
import type { ThingType } from './things'

const props = defineProps<{ thing: RowOf<ThingType> }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.thing.id)

const controls = computed(() => (book.settings?.values.controls ?? []).map((c) => ({ value: c.key, label: c.name })))
const gear = computed(() => book.of('item').filter((i) => i.values.slot).map((i) => ({ value: i.key, label: `while ${i.values.name} is in hand` })))
const tagged = computed(() => {
  const kinds = new Map(book.of('kind').map((k) => [k.key, k]))
  return book.of('object').filter((o) => placed(o, kinds).design.tags.includes(props.thing.key))
})
function controlName(key: string): string {
  return controls.value.find((c) => c.value === key)?.label ?? key
}
const fileProblems = ref<Problem[]>([])
/** How long a file sounds, as the browser finds; null where it cannot say. */
async function lasting(file: File): Promise<number | null> {
  const address = URL.createObjectURL(file)
  const audio = new Audio()
  const seconds = await new Promise<number | null>((done) => {
    audio.onloadedmetadata = () => done(Number.isFinite(audio.duration) ? Math.round(audio.duration * 100) / 100 : null)
    audio.onerror = () => done(null)
    audio.src = address
  })
  URL.revokeObjectURL(address)
  return seconds
}
async function chooseFile(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (!file) return
  fileProblems.value = []
  try {
    await book.soundFile(props.thing.id, file, await lasting(file))
  } catch (error) {
    fileProblems.value = problemsOf(error)
  }
}
function hear(): void {
  if (props.thing.type === 'sound') void new Audio(`/api/projects/${book.project}/assets/${props.thing.values.file}`).play()
}
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.thing.id, values))
}
/** By the router, since this page may be gone by then. */
function go(selected: string): void {
  void router.replace({ name: 'items', params: { selected } })
}
async function remove(clean: boolean): Promise<void> {
  if (await quietly(book.edit([{ do: 'remove', id: props.thing.id, clean }]))) go('')
}
</script>

<template>
  <p class="small quiet">{{ thing.type === 'item' || thing.type === 'ability' ? 'an' : 'a' }} {{ thing.type === 'namedneed' ? 'named need' : thing.type }}, <EditWord class="mono" :text="thing.key" label="name in cues" kind="text" @change="(key) => quietly(book.edit([{ do: 'set', id: thing.id, key }]))" /></p>
  <h1><EditWord :text="thing.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="What it is" remember="thing">
    <template v-if="thing.type === 'item'">
      <p class="measure"><EditWord :text="thing.values.description || 'no description yet'" label="description" kind="long" :value="thing.values.description" @change="(v) => set({ description: v })" /></p>
      <p>The player can have up to <EditWord :text="String(thing.values.limit)" label="limit" kind="number" :value="thing.values.limit" :step="1" :min="1" :max="999" @change="(v) => set({ limit: Math.round(Number(v)) })" /> and begins with <EditWord :text="String(thing.values.at_start)" label="at start" kind="number" :value="thing.values.at_start" :step="1" :min="0" @change="(v) => set({ at_start: Math.round(Number(v)) })" />.</p>
      <p class="measure">It is <EditWord :text="thing.values.slot ? `gear for the ${thing.values.slot.replaceAll('_', ' ')}` : 'no gear'" label="slot, empty for no gear" kind="text" :value="thing.values.slot" @change="(v) => set({ slot: v.trim().toLowerCase().replace(/[^a-z0-9]+/g, '_') })" /><template v-if="thing.values.slot">: equipped it shows there, and abilities can ask for it</template>. Its sign is <EditWord :text="thing.values.icon" label="icon" kind="choice" :choices="asChoices(ICON_NAMES)" @change="(v) => set({ icon: v })" />.</p>
      <p class="measure">Read: <EditWord :text="thing.values.text || 'it holds no text'" label="text" kind="long" :value="thing.values.text" @change="(v) => set({ text: v })" /></p>
    </template>
    <p v-else-if="thing.type === 'fact'">
      It is a <EditWord :text="thing.values.type === 'yes_no' ? 'yes or no' : 'number'" label="type" kind="choice" :choices="[{ value: 'yes_no', label: 'yes or no' }, { value: 'number', label: 'number' }]" @change="(v) => set({ type: v })" />, at the start <EditWord v-if="thing.values.type === 'yes_no'" :text="thing.values.at_start ? 'yes' : 'no'" label="at start" kind="choice" :choices="[{ value: '0', label: 'no' }, { value: '1', label: 'yes' }]" @change="(v) => set({ at_start: Number(v) })" /><template v-else><EditWord :text="String(thing.values.at_start)" label="at start" kind="number" :value="thing.values.at_start" :step="1" @change="(v) => set({ at_start: Math.round(Number(v)) })" />, from <EditWord :text="String(thing.values.lowest)" label="lowest" kind="number" :value="thing.values.lowest" :step="1" @change="(v) => set({ lowest: Math.round(Number(v)) })" /> to <EditWord :text="String(thing.values.highest)" label="highest" kind="number" :value="thing.values.highest" :step="1" @change="(v) => set({ highest: Math.round(Number(v)) })" /></template>.
    </p>
    <template v-else-if="thing.type === 'ability'">
      <p class="measure"><EditWord :text="thing.values.description || 'no description yet'" label="description" kind="long" :value="thing.values.description" @change="(v) => set({ description: v })" /></p>
      <p class="measure">The player does it with <EditWord :text="thing.values.control ? controlName(thing.values.control) : 'no control yet'" label="control" kind="choice" :choices="[{ value: '', label: 'no control' }, ...controls]" @change="(v) => set({ control: v })" />, <EditWord :text="thing.values.gear ? `while ${book.name(thing.values.gear)} is in hand, or when granted` : 'when it was granted'" label="gear" kind="choice" :choices="[{ value: '', label: 'when it was granted' }, ...gear]" @change="(v) => set({ gear: v })" />, on what is aimed at up to <EditWord :text="`${thing.values.range_m} m`" label="range" kind="number" :value="thing.values.range_m" :min="0.1" @change="(v) => set({ range_m: Number(v) })" /> away, within <EditWord :text="`${thing.values.aim_deg}°`" label="aim" kind="number" :value="thing.values.aim_deg" :step="5" :min="1" :max="180" @change="(v) => set({ aim_deg: Number(v) })" /> of where the player looks. What answers has a cue <i>when struck by {{ thing.values.name }}</i>.</p>
    </template>
    <template v-else-if="thing.type === 'role'">
      <p class="measure"><EditWord :text="thing.values.description || 'no description yet'" label="description" kind="long" :value="thing.values.description" @change="(v) => set({ description: v })" /></p>
      <p class="quiet small">A step <i>fill the role</i> decides who it is; needs, markers and objectives can then speak of it.</p>
    </template>
    <p v-else-if="thing.type === 'tag'" class="measure">Worn by {{ tagged.length ? '' : 'nothing yet: tags are put on under Body and use' }}<template v-for="(o, i) in tagged" :key="o.id">{{ i ? ', ' : '' }}<router-link class="link" :to="{ name: 'plan', params: { selected: o.key } }">{{ o.values.name }}</router-link></template>.</p>
    <TextProse v-else-if="thing.type === 'namedneed'" :record="thing.id" field="text" start="needs" self="" :reading="reading?.texts[`${thing.id}.text`]" label="the need" draft="" />
    <template v-else-if="thing.type === 'sound'">
    <p>It lasts <EditWord :text="`${thing.values.seconds} s`" label="seconds" kind="number" :value="thing.values.seconds" :min="0" @change="(v) => set({ seconds: Number(v) })" />. <button v-if="thing.values.file" class="link" @click="hear">hear it</button><span v-else>No file is chosen yet: in a playtest it is shown by its name.</span></p>
    <p><label class="link file">{{ thing.values.file ? 'choose another file' : 'choose a file' }}<input type="file" accept=".wav,.ogg,.mp3,.flac,audio/*" aria-label="Choose a sound file" @change="chooseFile" /></label> <span class="quiet small">wav, ogg, mp3 or flac, up to 4 MB</span> <button v-if="thing.values.file" class="link small" @click="set({ file: '' })">take the file away</button></p>
    <Problems :problems="fileProblems" />
    </template>
  </SectionHead>
  <SectionHead title="Where it is used" :note="reading ? String(reading.uses.length) : ''" remember="thing-uses">
    <UseList v-if="reading" :uses="reading.uses" empty="Nowhere yet." />
  </SectionHead>
  <DeleteLine @remove="remove" />
</template>

<style scoped>
.file { cursor: pointer; } .file input { position: absolute; width: 1px; height: 1px; opacity: 0; } .file:focus-within { outline: 2px solid var(--ink); }
</style>
