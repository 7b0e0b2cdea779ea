<script setup lang="ts">
import { computed, onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, type Problem, type RowOf, type Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import type { SentencePart } from '@/parts/fields'
import Problems from '@/parts/Problems.vue'
import SectionHead from '@/parts/SectionHead.vue'
import Sentence from '@/parts/Sentence.vue'
import { useFiles } from '@/projects/files'
import WorkLine from '@/parts/WorkLine.vue'
import { problemsOf, useBook } from '@/stores/book'
import ControlLine from './ControlLine.vue'
import { CAMERA, PLAYER, PROJECT, USUAL } from './fields'

/** The project itself: controls, player, camera, limits and usual values, kinds, file in and out. */
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const settings = computed(() => book.settings)
const v = computed(() => settings.value?.values)
const problems = ref<Problem[]>([])
const files = useFiles()
const kept = ref<Schemas['KeptShape'] | null>(null)
onMounted(async () => {
  kept.value = answered<Schemas['KeptShape']>(await api.GET('/api/kept'))
})

/** So many uses of a kind are named. */
const FEW = 3
const at = (selected: string): { name: string; params: { selected: string } } => ({
  name: 'plan',
  params: { selected },
})

function set(values: Record<string, unknown>, name = ''): void {
  if (settings.value) void quietly(book.set(settings.value.id, values, name))
}
type Part = 'player' | 'camera' | 'usual'
function part(of: Part, field: string, value: unknown, done: boolean): void {
  if (!v.value || !done) return
  const words = field.replace(/_m(ps)?$|_s$/, '').replaceAll('_', ' ')
  set({ [of]: { ...v.value[of], [field]: value } }, `Changed the ${words} of the ${of}`)
}
function put(field: string, value: unknown, done: boolean): void {
  if (done) set({ [field]: value })
}
const OF_PLAYER: SentencePart[] = [
  'The player is a disc of {radius_m} radius, walks {speed_mps} and has eyes at {eyes_m}. ',
  'A step of 0.4 m is walked; a drop of more than 3.5 m downs.',
]
const OF_CAMERA: SentencePart[] = [
  'A playtest shows {view_m} of the level across, looks {look_ahead_m} ahead, is {behind_s} behind, and {inside_area}.',
]
const OF_USUAL: SentencePart[] = [
  'A step that puts, scatters or drops has at most {most_put} copies at a time unless it says otherwise; ',
  'a prompt opens and closes in {prompt_s}. ',
]
const OF_PROJECT: SentencePart[] = [
  'Money is called {money_name}. The levels of experience from 2 on begin at {experience_levels}.',
]
function setControl(i: number, values: Record<string, unknown>): void {
  set({ controls: v.value?.controls.map((c, n) => (n === i ? { ...c, ...values } : c)) }, 'Changed a control')
}
function addControl(): void {
  const taken = v.value?.controls.map((c) => c.key) ?? []
  let n = taken.length + 1
  while (taken.includes(`control_${n}`)) n++
  const fresh = { key: `control_${n}`, name: `Control ${n}`, keys: [], mouse: [], pad: [] }
  set({ controls: [...(v.value?.controls ?? []), fresh] }, 'Added a control')
}
const kinds = computed(() => {
  const uses = new Map<string, RowOf<'object'>[]>()
  for (const one of book.of('object')) uses.set(one.values.kind, [...(uses.get(one.values.kind) ?? []), one])
  return book.of('kind').map((row) => ({ row, uses: uses.get(row.key) ?? [] }))
})
async function guarded(act: () => Promise<unknown>): Promise<void> {
  problems.value = []
  try {
    await act()
  } catch (error) {
    problems.value = problemsOf(error)
  }
}
async function fileIn(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  if (!file) return
  await guarded(async () => {
    const made = await files.fileIn(file)
    if (made) void router.push(`/p/${made}/plan`).then(() => router.go(0))
  })
  field.value = ''
}
</script>

<template>
  <div v-if="v && settings" class="project">
    <div class="column">
      <h1><Sentence of="Project" :fields="PROJECT" :values="v" :parts="['{name}']" @put="put" /></h1>
      <SectionHead title="Controls" remember="project-controls">
        <template #note><button class="link" @click="addControl">+ control</button></template>
        <ControlLine
          v-for="(control, i) in v.controls"
          :key="control.key"
          :control="control"
          :others="v.controls"
          @change="(values) => setControl(i, values)"
          @remove="set({ controls: v.controls.filter((_, n) => n !== i) }, 'Removed a control')"
        />
        <p class="quiet small">
          A run walks with W A S D and the arrows always; answers and panels are worked with 1 to 9.
        </p>
      </SectionHead>
      <SectionHead title="Player" remember="project-player">
        <p class="measure">
          <Sentence
            of="Player"
            :fields="PLAYER"
            :values="v.player"
            :parts="OF_PLAYER"
            @put="(f, x, done) => part('player', f, x, done)"
          />
        </p>
      </SectionHead>
      <SectionHead title="Camera" remember="project-camera">
        <p class="measure">
          <Sentence
            of="Camera"
            :fields="CAMERA"
            :values="v.camera"
            :parts="OF_CAMERA"
            @put="(f, x, done) => part('camera', f, x, done)"
          />
        </p>
      </SectionHead>
      <SectionHead title="Limits and usual values" remember="project-usual">
        <p class="measure">
          <Sentence
            of="Usual"
            :fields="USUAL"
            :values="v.usual"
            :parts="OF_USUAL"
            @put="(f, x, done) => part('usual', f, x, done)"
          />
          <Sentence of="Project" :fields="PROJECT" :values="v" :parts="OF_PROJECT" @put="put" />
        </p>
      </SectionHead>
      <SectionHead v-if="kept" title="What is kept" remember="project-kept">
        <p class="measure">
          The newest {{ kept.edits.toLocaleString('en-GB') }} edits with their undo, and the newest
          {{ kept.walks }} walks; walks that are kept by name stay. A deleted project can be brought back
          from the list of projects for {{ kept.deleted_days }} days, then it is erased.
        </p>
      </SectionHead>
    </div>
    <div class="column">
      <SectionHead title="Kinds" :note="String(kinds.length)" remember="project-kinds">
        <ul>
          <li v-for="k in kinds" :key="k.row.id">
            <EditWord
              :text="k.row.values.name"
              label="kind name"
              kind="text"
              @change="(t) => quietly(book.set(k.row.id, { name: t }))"
            />
            {{ ' ' }}
            <router-link v-tooltip="'The page of this kind'" class="link mono small" :to="at(k.row.key)">{{
              k.row.key
            }}</router-link>
            {{ ' ' }}
            <span class="quiet small">
              {{ k.uses.length ? '' : 'not placed' }}
              <template v-for="(o, i) in k.uses.slice(0, FEW)" :key="o.id">
                {{ i ? ', ' : '' }}<router-link class="link" :to="at(o.key)">{{ o.values.name }}</router-link>
              </template>
              {{ k.uses.length > FEW ? ` and ${k.uses.length - FEW} more` : '' }}
            </span>
          </li>
        </ul>
        <p class="quiet small">
          A kind is changed on its own page, or from any object placed from it with <i>make it the kind’s</i>.
        </p>
      </SectionHead>
      <SectionHead title="File" remember="project-file">
        <p class="measure">
          <button class="link" @click="guarded(() => files.fileOut(book.project, 'file'))">The project file</button>:
          everything as one readable document.
          <button class="link" @click="guarded(() => files.fileOut(book.project, 'package'))">With its sounds</button>:
          the same and every sound, as one zip.
        </p>
        <p>
          <label class="link file">
            Open a file as a new project
            <input type="file" accept=".json,.zip" aria-label="Open a file as a new project" @change="fileIn" />
          </label>
        </p>
        <WorkLine :work="files.work" />
        <Problems :problems="problems" />
      </SectionHead>
    </div>
  </div>
</template>

<style scoped>
.project {
  flex: 1; overflow: auto; display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 0 48px;
  padding: 20px 36px 40px; background: var(--page); align-content: start;
}
ul { list-style: none; margin: 0; padding: 0; } li { border-bottom: 1px dotted var(--rules); padding: 1px 0; }
.file { cursor: pointer; }
.file input { position: absolute; width: 1px; height: 1px; opacity: 0; }
.file:focus-within { outline: 2px solid var(--ink); }
@media (max-width: 1000px) { .project { grid-template-columns: minmax(0, 1fr); } }
</style>
