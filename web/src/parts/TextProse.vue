<script setup lang="ts">
import { useWindowSize } from '@vueuse/core'
import { computed, nextTick, ref } from 'vue'
import { onBeforeRouteLeave, onBeforeRouteUpdate } from 'vue-router'
import { answered, api, type ChangeAsked, type Problem, type Schemas } from '@/api/client'
import { triedAgainIn } from '@/api/connection'
import SilentSounds from '@/items/SilentSounds.vue'
import { problemsOf, useBook } from '@/stores/book'
import { useFindings } from '@/stores/findings'
import type { Choice } from './choices'
import CueText from './CueText.vue'
import EditWord from './EditWord.vue'
import { asKey } from './cueNames'
import { useMovingPieces, type Run } from './moving'
import { textChange, type TextPlace } from './pieces'
import PieceActions from './PieceActions.vue'
import Problems from './Problems.vue'

/** A cue text of a record as prose; one at a time as text. Every change is a span of the text put anew. */
const props = defineProps<{
  record: number
  field: string
  start: 'cue' | 'needs' | 'steps'
  self: string
  reading: Schemas['TextReading'] | undefined
  draft?: string
  empty?: string
  label: string
  /** Where it is a cue of a kind on the page of an object: that object's own cue takes its place when it is changed. */
  instead?: { owner: number; key: string } | undefined
}>()

const book = useBook()
const findings = useFindings()
const typing = ref(false)
const wrong = ref<Problem[]>([])
const root = ref<HTMLElement | null>(null)
const area = ref<InstanceType<typeof CueText> | null>(null)
const tokens = computed(() => props.reading?.tokens ?? [])
const shownProblems = computed(() => [
  ...wrong.value,
  ...(props.reading?.draft_problems ?? []),
  ...(props.reading?.problems ?? []),
])
/** What a finding says of some words: those within its place in the text. */
function amiss(token: Schemas['TokenShape']): string {
  const found = findings.here.find(
    (f) => f.record === props.record && f.field === props.field && f.span && within(token, f.span),
  )
  return found ? `${found.whose} ${found.says}` : ''
}
const within = (token: Schemas['TokenShape'], span: readonly number[]): boolean =>
  (span[0] ?? 0) <= token.start && token.end <= (span[1] ?? 0)
const base = computed(() => props.reading?.text ?? '')

let underWay: Promise<unknown> | null = null
/** One change after another: what the first makes (a cue of one's own) is there for the second. */
async function put(values: Record<string, string>, name: string): Promise<void> {
  if (underWay) {
    await underWay.catch(() => undefined)
    await nextTick()
  }
  const mine = book.edit([textChange(place.value, values, { ...book.rows.get(props.record)?.values })], name)
  underWay = mine
  try {
    await mine
  } finally {
    if (underWay === mine) underWay = null
  }
}
/** Keeps a text. A draft goes only when it was typed into a text that can be read; a changed word lets it be. */
async function save(text: string, openHole = false, name = '', typed = false): Promise<void> {
  try {
    wrong.value = []
    const values: Record<string, string> = { [props.field]: text }
    if (typed && props.start === 'cue') values.draft = ''
    await put(values, name)
    typing.value = false
    if (openHole) await focusHole()
  } catch (error) {
    wrong.value = problemsOf(error)
    book.refusal = null
    if (props.start !== 'cue' || !typed) return
    await put({ draft: text }, 'Typed a draft of a cue')
    wrong.value = []
    typing.value = false
  }
}
/** What is being typed is kept before the page is left; what cannot be kept holds one here, with the reason. */
async function kept(): Promise<boolean> {
  const text = area.value?.typed()
  if (text === undefined || text === (props.draft || base.value)) return true
  const saved = save(text, false, '', true)
  // Where the server is away it is sent once that is back.
  if (!triedAgainIn.value) await saved
  return !!triedAgainIn.value || !typing.value
}
onBeforeRouteLeave(kept)
onBeforeRouteUpdate(kept)
/** The text as the record has it now; the reading of it comes a moment later. */
function current(): string {
  const values = book.rows.get(props.record)?.values as Record<string, unknown> | undefined
  return String(values?.[props.field] ?? '')
}
/** Wait until all edits are kept and what is shown is the reading of the text as it is; false when it does not come. */
async function fresh(): Promise<boolean> {
  await book.settled()
  for (let i = 0; i < MOST_FRAMES && base.value !== current(); i++)
    await new Promise((done) => requestAnimationFrame(done))
  await nextTick()
  return base.value === current()
}
async function focusHole(): Promise<void> {
  if (!(await fresh())) return
  const hole = [...(root.value?.querySelectorAll<HTMLElement>('.word') ?? [])].find((b) => b.textContent === '…')
  hole?.click()
}
function replaced(token: Schemas['TokenShape'], value: string): string {
  const quoted =
    token.slot === 'label'
      ? asLabel(value)
      : token.slot === 'wording'
        ? `"${value.replaceAll('\\', '\\\\').replaceAll('"', '\\"').replaceAll('\n', '\\n')}"`
        : token.slot === 'seconds'
          ? measured(value, 's')
          : token.slot === 'metres'
            ? measured(value, 'm')
            : value
  return base.value.slice(0, token.start) + token.before + quoted + token.after + base.value.slice(token.end)
}
/** A name of the owner's own making, as it is written in a cue. */
const asLabel = (typed: string): string => asKey(typed) || '?'
/** A number with its unit; a value of the owner's own brings none. */
const measured = (value: string, unit: string): string => (value.startsWith('its ') ? value : `${value} ${unit}`)
function kindOf(slot: string): 'text' | 'number' | 'choice' | 'long' {
  if (['number', 'seconds', 'metres'].includes(slot)) return 'number'
  if (slot === 'label') return 'text'
  return slot === 'wording' ? 'long' : 'choice'
}
async function optionsFor(token: Schemas['TokenShape']): Promise<Choice[]> {
  if (['label', 'wording'].includes(token.slot)) return []
  const slot = kindOf(token.slot) === 'number' ? 'number' : ''
  const found = answered<Schemas['OptionShape'][]>(
    await api.POST('/api/projects/{project}/options', {
      params: { path: { project: book.project } },
      body: { text: base.value, at: token.start, start: props.start, this: props.self, slot },
    }),
  )
  return found
}
const MOST_FRAMES = 180
/** A hole in a text, outside of what is said: filled in one after another. */
const HOLE = /(^|[\s(])\?($|[\s),])(?=([^"]*"[^"]*")*[^"]*$)/
const MOVED_ON: Problem = {
  code: 'changed_since',
  message: 'This was changed in the meantime, so the word was not put in.',
  fix: 'Look at it as it is now and choose again.',
  path: '',
}
/** Puts a word in: into the text as it is by then, if the same word still stands there. */
async function change(token: Schemas['TokenShape'], value: string): Promise<void> {
  const [at, looked] = [tokens.value.indexOf(token), book.lookedAt()]
  const now = (await fresh()) ? tokens.value[at] : undefined
  if (now?.slot !== token.slot || now.text !== token.text) {
    wrong.value = [MOVED_ON]
    return
  }
  const text = replaced(now, value)
  const more = value.includes('?') || (token.text.trim() === '…' && HOLE.test(text))
  book.asSeenAt(looked, () => void save(text, more))
}
/** Makes what was named, and names it in the word's place: one edit. */
async function makeFor(token: Schemas['TokenShape'], sort: string, name: string): Promise<void> {
  const at = tokens.value.indexOf(token)
  const now = (await fresh()) ? tokens.value[at] : undefined
  if (now?.slot !== token.slot || now.text !== token.text) {
    wrong.value = [MOVED_ON]
    return
  }
  const key = book.freeKey(asKey(name) || sort)
  const text = replaced(now, key)
  const values = { ...book.rows.get(props.record)?.values }
  const made = { do: 'add', type: sort, key, values: { name } } as Partial<ChangeAsked>
  try {
    await book.edit([made, textChange(place.value, { [props.field]: text }, values)], `Added the ${sort} ${name}`)
    if (HOLE.test(text)) await focusHole()
  } catch (error) {
    wrong.value = problemsOf(error)
  }
}
async function add(what: string): Promise<void> {
  if (!(await fresh())) return
  const insert = props.reading?.inserts.find((i) => i.what === what)
  if (!insert) return
  await save(base.value.slice(0, insert.at) + insert.text + base.value.slice(insert.at), true)
}
async function addPlain(): Promise<void> {
  if (!(await fresh())) return
  const hole =
    props.start === 'needs' ? (base.value ? `${base.value}\n  and ?` : '?') : base.value ? `${base.value}\n?` : '?'
  await save(hole, true)
}
/** A sound of its own for a step that names none, in one edit. */
async function nameSound(): Promise<void> {
  if (!(await fresh())) return
  const name = book.freshName('sound', `${book.name(props.self) || 'New'} sound`)
  const key = asLabel(name)
  const text = base.value.replace(/\bsound \?/, `sound ${key}`)
  const values = { ...book.rows.get(props.record)?.values }
  const made = { do: 'add', type: 'sound', key, values: { name } } as Partial<ChangeAsked>
  try {
    await book.edit([made, textChange(place.value, { [props.field]: text }, values)], `Added the sound ${name}`)
  } catch (error) {
    wrong.value = problemsOf(error)
  }
}
// --- needs and steps as pieces that can be moved, copied and taken out
const place = computed<TextPlace>(() => ({
  record: props.record,
  field: props.field,
  start: props.start,
  ...(props.instead ? { instead: props.instead } : {}),
}))
/** Tokens that follow one another and belong to one piece, or to none. */
const runs = computed(() => {
  const found: Run[] = []
  for (const token of tokens.value) {
    const last = found.at(-1)
    if (last && last.piece === token.piece) last.tokens.push(token)
    else found.push({ piece: token.piece, tokens: [token] })
  }
  return found
})
const { width: roomRight } = useWindowSize()
const { pieces, landed, take, shift, remove, copy, cut, paste, onPieceKey } = useMovingPieces({
  root: () => root.value,
  place: () => place.value,
  text: () => base.value,
  runs: () => runs.value,
  fresh,
  save: (text, name) => save(text, false, name),
  refused: (error) => (wrong.value = problemsOf(error)),
})

function onKey(event: KeyboardEvent): void {
  if (onPieceKey(event)) return
  if (event.ctrlKey && event.key.toLowerCase() === 'e') {
    event.preventDefault()
    event.stopPropagation()
    typing.value = true
  }
}
defineExpose({ type: () => (typing.value = true), focusHole })
</script>

<template>
  <div
    ref="root"
    class="text-prose"
    :data-record="record"
    :data-field="field"
    :data-start="start"
    :data-owner="instead?.owner"
    :data-key="instead?.key"
    @keydown="onKey"
  >
    <CueText
      v-if="typing"
      ref="area"
      :text="draft || base"
      :start="start"
      :self="self"
      :label="label"
      @done="(text) => save(text, false, '', true)"
      @cancel="typing = false"
    />
    <p v-else class="measure prose">
      <span v-if="!reading" class="quiet" data-unread>… </span
      ><span v-else-if="!tokens.length" class="quiet">{{ empty ?? 'Nothing yet.' }} </span>
      <span
        v-for="(run, r) in runs"
        :key="r"
        :data-piece="run.piece || undefined"
        :class="landed[r]"
        @pointerdown="(e) => take(e, run.piece)"
        ><template v-for="(token, i) in run.tokens" :key="i">
          <template v-if="token.slot && token.text.trim()"
            >{{ token.text.startsWith(' ') ? ' ' : ''
            }}<EditWord
              :text="token.text.trim()"
              :label="token.slot === 'word' ? 'name' : token.slot"
              :kind="kindOf(token.slot)"
              :value="token.value"
              :look="token.role === 'step' ? 'step' : token.role === 'need' ? 'need' : ''"
              :choices="() => optionsFor(token)"
              :step="token.slot === 'metres' ? 0.25 : 1"
              :min="token.slot === 'metres' ? -100 : 0"
              :amiss="amiss(token)"
              @change="(v) => void change(token, v)"
              @make="(sort, name) => void makeFor(token, sort, name)"
              ><template v-if="['need', 'step'].includes(token.slot)" #more="{ close }"
                ><PieceActions
                  :what="token.slot"
                  :copied="pieces.copied.value"
                  @earlier="(close(), shift(run.piece, -1))"
                  @later="(close(), shift(run.piece, 1))"
                  @copy="(close(), copy(run.piece))"
                  @cut="(close(), cut(run.piece))"
                  @paste="(close(), paste(pieces.copied.value, run.piece))"
                  @remove="(close(), remove(run.piece))" /></template></EditWord
            >{{ token.text.endsWith(' ') ? ' ' : '' }}</template
          ><span v-else :class="`role-${token.role}`">{{ token.text }}</span>
        </template></span
      >
    </p>
    <p v-if="!typing && reading" class="small quiet adds">
      <template v-if="start === 'cue'"
        ><button v-for="insert in reading?.inserts ?? []" :key="insert.what" class="link" @click="add(insert.what)">
          + {{ insert.what }}
        </button></template
      >
      <button v-else class="link" @click="addPlain">+ {{ start === 'needs' ? 'need' : 'step' }}</button>
      <button v-tooltip="'Ctrl+E'" class="link" @click="typing = true">as text</button>
      <slot name="actions" />
    </p>
    <SilentSounds v-if="!typing && start !== 'needs'" :tokens="tokens" :text="base" @name="nameSound" />
    <template v-if="draft && !typing">
      <p class="small trouble">This newer text cannot be read yet; the sentence above stays in force.</p>
      <pre class="mono draft">{{ draft }}</pre>
    </template>
    <Problems :problems="shownProblems" />
    <Teleport v-if="pieces.held.value?.record === record && pieces.held.value.field === field" to="body"
      ><span
        class="carried"
        :class="{ nowhere: !pieces.landing.value }"
        :style="{
          left: `${Math.min(pieces.held.value.x + 14, roomRight - 350)}px`,
          top: `${pieces.held.value.y + 12}px`,
        }"
        >{{ pieces.held.value.words }}</span
      ></Teleport
    >
  </div>
</template>

<style scoped>
.prose { line-height: 1.85; }
.drop-before { box-shadow: -3px 0 0 var(--ink); }
.drop-after { box-shadow: 3px 0 0 var(--ink); }
.carried {
  position: fixed; z-index: 60; pointer-events: none; max-width: 340px; padding: 2px 10px; white-space: nowrap;
  overflow: hidden; text-overflow: ellipsis; background: var(--page); border: 1.5px solid var(--ink);
  border-radius: 5px; box-shadow: 0 6px 20px #22303c33;
}
.carried.nowhere { border-style: dashed; color: var(--pencil); }
.adds { display: flex; flex-wrap: wrap; gap: 0 12px; white-space: nowrap; opacity: 1; margin-top: 1px; }
.draft {
  font-size: 12.5px; background: var(--shade); padding: 4px 8px; border-radius: 4px; margin: 2px 0;
  white-space: pre-wrap;
}
</style>
