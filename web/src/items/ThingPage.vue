<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import type { Problem, RowOf, Schemas } from '@/api/client'
import DeleteLine from '@/page/DeleteLine.vue'
import FindingsSection from '@/page/FindingsSection.vue'
import NameInCues from '@/page/NameInCues.vue'
import { useQuietly } from '@/page/quietly'
import { leadOf } from '@/page/leads'
import UseList from '@/page/UseList.vue'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import Problems from '@/parts/Problems.vue'
import TextProse from '@/parts/TextProse.vue'
import BalanceMarks from './BalanceMarks.vue'
import { hear } from './hearing'
import ItemSign from './ItemSign.vue'
import SoundMaker from './SoundMaker.vue'
import type { Choice } from '@/parts/choices'
import type { SentencePart } from '@/parts/fields'
import Sentence from '@/parts/Sentence.vue'
import { placed } from '@/plan/designs'
import { problemsOf, useBook } from '@/stores/book'
import { usePageReading } from '@/stores/page'
import { abilityFields, FACT, ITEM, ROLE, SOUND } from './fields'
import type { ThingType } from './things'

const FLOWING: string[] = ['item', 'fact', 'ability', 'role', 'sound']
const props = defineProps<{ thing: RowOf<ThingType>; balance?: Schemas['BalanceShape'] }>()
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const { reading } = usePageReading(() => props.thing.id)

const controls = (): Choice[] => (book.settings?.values.controls ?? []).map((c) => ({ value: c.key, label: c.name }))
const gear = (): Choice[] =>
  book
    .of('item')
    .filter((i) => i.values.slot)
    .map((i) => ({ value: i.key, label: `while ${i.values.name} is in hand` }))
const ABILITY = abilityFields(controls, gear, (key) => book.name(key))
const SORTS: Partial<Record<ThingType, string>> = { item: 'an item', ability: 'an ability', namedneed: 'a named need' }
const sort = computed(() => SORTS[props.thing.type] ?? `a ${props.thing.type}`)
const OF_ITEM = (slot: string): SentencePart[][] => [
  ['{description}'],
  ['The player can have up to {limit} and begins with {at_start}.'],
  ['It is {slot}', [slot, ': equipped it shows there, and abilities can ask for it'], '.'],
  ['Read: {text}'],
]
const OF_FACT: Record<'yes_no' | 'number', SentencePart[]> = {
  yes_no: ['It is a {type}, at the start {yes}.'],
  number: ['It is a {type}, at the start {at_start}, from {lowest} to {highest}.'],
}
const OF_ABILITY: SentencePart[] = [
  'The player does it with {control}, {gear}, on what is aimed at up to {range_m} away, ',
  'within {aim_deg} of where the player looks. ',
]
const tagged = computed(() => {
  return book.of('object').filter((o) => placed(o, book.kinds).design.tags.includes(props.thing.key))
})
type Flow = Schemas['FlowShape']
/** What brings it about, by what it is. */
const FROM: Partial<Record<ThingType, string>> = {
  fact: 'Set by',
  ability: 'Granted by',
  role: 'Filled by',
  sound: 'Played by',
}
/** Where it comes from, where it goes, what asks for it, as far as that can be said of its sort. */
const FLOWS: { how: Flow['how']; title: string; empty: string }[] = (
  [
    { how: 'from', title: FROM[props.thing.type] ?? 'Comes from', empty: 'Nothing yet.' },
    { how: 'to', title: 'Goes to', empty: 'Nothing takes it.' },
    { how: 'asked', title: 'Asked for by', empty: 'Nothing asks for it.' },
  ] as const
).filter(({ how }) => ({ from: FLOWING, to: ['item'], asked: FLOWING.slice(0, 4) })[how].includes(props.thing.type))
const flows = (how: Flow['how']): Flow[] => (reading.value?.flows ?? []).filter((f) => f.how === how)
/** What uses it in no such way. */
const others = computed(() => {
  const told = new Set((reading.value?.flows ?? []).filter((f) => f.how !== 'other').map((f) => f.record))
  return (reading.value?.uses ?? []).filter((u) => !told.has(u.record))
})
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
    await book.giveFile(props.thing.id, file, props.thing.type === 'sound' ? await lasting(file) : null)
  } catch (error) {
    fileProblems.value = problemsOf(error)
  }
}
function set(values: Record<string, unknown>): void {
  void quietly(book.set(props.thing.id, values))
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
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
  <p class="small quiet">{{ sort }}, <NameInCues :record="thing" /></p>
  <h1><EditWord :text="thing.values.name" label="name" kind="text" @change="(v) => set({ name: v })" /></h1>
  <SectionHead title="What it is" remember="thing">
    <template v-if="thing.type === 'item'">
      <p v-for="parts in OF_ITEM(thing.values.slot)" :key="parts.join()" class="measure">
        <Sentence of="Item" :fields="ITEM" :values="thing.values" :parts="parts" @put="put" />
      </p>
      <p class="picture">
        <span class="sign"><ItemSign :icon="thing.values.icon" :picture="thing.values.picture" :size="36" /></span>
        <span>
          <template v-if="thing.values.picture">
            Its own picture;
            <button class="link" @click="set({ picture: '' })">take it away</button> for the sign
          </template>
          <template v-else>Its sign is </template
          ><Sentence of="Item" :fields="ITEM" :values="thing.values" :parts="['{icon}']" @put="put" />.
          <label class="link file">
            {{ thing.values.picture ? 'choose another picture' : 'choose a picture of your own' }}
            <input type="file" accept="image/png,image/jpeg" aria-label="Choose a picture" @change="chooseFile" />
          </label>
          {{ ' ' }}<span class="quiet small">png or jpeg, up to 4 MB</span>
        </span>
      </p>
      <Problems :problems="fileProblems" />
    </template>
    <p v-else-if="thing.type === 'fact'">
      <Sentence of="Fact" :fields="FACT" :values="thing.values" :parts="OF_FACT[thing.values.type]" @put="put" />
    </p>
    <template v-else-if="thing.type === 'ability'">
      <p class="measure">
        <Sentence of="Ability" :fields="ABILITY" :values="thing.values" :parts="['{description}']" @put="put" />
      </p>
      <p class="measure">
        <Sentence of="Ability" :fields="ABILITY" :values="thing.values" :parts="OF_ABILITY" @put="put" />
        What answers has a cue <i>when struck by {{ thing.values.name }}</i
        >.
      </p>
    </template>
    <template v-else-if="thing.type === 'role'">
      <p class="measure">
        <Sentence of="Role" :fields="ROLE" :values="thing.values" :parts="['{description}']" @put="put" />
      </p>
      <p class="quiet small">
        A step <i>fill the role</i> decides who it is; needs, markers and objectives can then speak of it.
      </p>
    </template>
    <p v-else-if="thing.type === 'tag'" class="measure">
      Worn by {{ tagged.length ? '' : 'nothing yet: tags are put on under Body and use' }}
      <template v-for="(o, i) in tagged" :key="o.id">
        {{ i ? ', ' : '' }}
        <router-link class="link" :to="{ name: 'plan', params: { selected: o.key } }">{{
          o.values.name
        }}</router-link> </template
      >.
    </p>
    <TextProse
      v-else-if="thing.type === 'namedneed'"
      :record="thing.id"
      field="text"
      start="needs"
      self=""
      :reading="reading?.texts[`${thing.id}.text`]"
      label="the need"
      draft=""
    />
    <template v-else-if="thing.type === 'sound'">
      <p>
        <Sentence of="Sound" :fields="SOUND" :values="thing.values" :parts="['It lasts {seconds}. ']" @put="put" />
        <button v-if="thing.values.file" class="link" @click="hear(book.project, thing.key)">hear it</button>
        <span v-else>No file is chosen yet: in a playtest it is shown by its name.</span>
      </p>
      <p>
        <label class="link file">
          {{ thing.values.file ? 'choose another file' : 'choose a file' }}
          <input
            type="file"
            accept=".wav,.ogg,.mp3,.flac,audio/*"
            aria-label="Choose a sound file"
            @change="chooseFile"
          />
        </label>
        {{ ' ' }}
        <span class="quiet small">wav, ogg, mp3 or flac, up to 4 MB</span>
        {{ ' ' }}
        <button v-if="thing.values.file" class="link small" @click="set({ file: '' })">take the file away</button>
      </p>
      <Problems :problems="fileProblems" />
      <SoundMaker :sound="thing" @heard="hear(book.project, thing.key)" />
    </template>
  </SectionHead>
  <SectionHead v-if="balance" title="Balance" note="on every way through" remember="thing-balance">
    <div class="weighed" :data-balance="thing.key">
      <p>
        <b>{{ balance.most ?? 'any number' }}</b> can be had<br />
        <span v-if="balance.most === null || balance.most > balance.limit" class="quiet small"
          >{{ balance.limit }} at a time</span
        >
      </p>
      <p><b>{{ balance.all_asked }}</b> asked for</p>
      <ul>
        <li v-for="(number, quest) in balance.asked" :key="quest">
          <router-link class="link" :to="{ name: 'quests', params: { selected: quest } }">{{
            book.name(String(quest))
          }}</router-link>
          <BalanceMarks
            :balance="balance"
            :asked="number"
            :label="`${number} asked for by ${book.name(String(quest))}`"
          />
        </li>
        <li v-if="balance.beside && balance.all_asked > Math.max(balance.kept, balance.beside)">
          <span class="quiet">beside all quests</span>
          <BalanceMarks
            :balance="balance"
            :asked="balance.beside"
            :label="`${balance.beside} taken beside all quests`"
          />
        </li>
        <li v-if="!Object.keys(balance.asked).length" class="quiet">
          {{ balance.kept ? 'Something asks to have it; no quest does.' : 'No quest asks for it.' }}
        </li>
        <li v-if="balance.too_few" class="amber">▲ {{ balance.too_few }} that nobody gives</li>
      </ul>
    </div>
  </SectionHead>
  <SectionHead
    v-for="one in FLOWS"
    :key="one.how"
    :title="one.title"
    :note="reading ? String(flows(one.how).length) : ''"
    :remember="`thing-${one.how}`"
  >
    <ul class="flows">
      <li v-for="(flow, i) in flows(one.how)" :key="i" :data-flow="one.how">
        <router-link v-if="leadOf(book, flow.record)" class="link" :to="leadOf(book, flow.record)!">{{
          flow.place
        }}</router-link>
        <span v-else>{{ flow.place }}</span
        >{{ ' ' }}<span class="quiet small">{{ flow.says }}</span>
      </li>
      <li v-if="reading && !flows(one.how).length" class="quiet">{{ one.empty }}</li>
    </ul>
  </SectionHead>
  <SectionHead
    v-if="!FLOWS.length || others.length"
    title="Where it is used"
    :note="reading ? String(others.length) : ''"
    remember="thing-uses"
  >
    <UseList v-if="reading" :uses="others" empty="Nowhere yet." />
  </SectionHead>
  <FindingsSection :record="thing.id" />
  <DeleteLine @remove="remove" />
</template>

<style scoped>
.flows { list-style: none; margin: 0; padding: 0; }
.flows .link { text-decoration: none; }
.picture { display: flex; gap: 12px; align-items: center; }
.sign { display: grid; place-items: center; width: 52px; height: 52px; border: 1px solid var(--ink); border-radius: 8px; flex: none; }
.weighed { display: grid; grid-template-columns: auto auto 1fr; gap: 4px 28px; align-items: start; }
.weighed p { margin: 0; }
.weighed b { display: block; font: 650 21px var(--head); }
.weighed ul { list-style: none; margin: 0; padding: 0; }
.weighed li { display: flex; flex-wrap: wrap; align-items: center; gap: 2px 12px; }
.amber { color: var(--amber); font-weight: 600; }
.file { cursor: pointer; }
.file input { position: absolute; width: 1px; height: 1px; opacity: 0; }
.file:focus-within { outline: 2px solid var(--ink); }
</style>
