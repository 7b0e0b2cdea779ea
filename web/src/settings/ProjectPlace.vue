<script setup lang="ts">
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'
import { useQuietly } from '@/page/quietly'
import EditWord from '@/parts/EditWord.vue'
import SectionHead from '@/parts/SectionHead.vue'
import { useBook } from '@/stores/book'
import ControlLine from './ControlLine.vue'

/** The project itself: controls, player, camera, limits and usual values, kinds, file in and out. */
const book = useBook()
const router = useRouter()
const { quietly } = useQuietly()
const settings = computed(() => book.settings)
const v = computed(() => settings.value?.values)
const sent = ref('')

function set(values: Record<string, unknown>, name = ''): void {
  if (settings.value) void quietly(book.set(settings.value.id, values, name))
}
function part(field: 'player' | 'camera' | 'usual', name: string, text: string): void {
  const value = Number(text)
  if (Number.isFinite(value) && v.value) set({ [field]: { ...v.value[field], [name]: value } }, `Changed the ${name.replace(/_m(ps)?$|_s$/, '').replaceAll('_', ' ')} of the ${field}`)
}
function setControl(i: number, values: Record<string, unknown>): void {
  set({ controls: v.value?.controls.map((c, n) => (n === i ? { ...c, ...values } : c)) }, 'Changed a control')
}
function addControl(): void {
  const taken = v.value?.controls.map((c) => c.key) ?? []
  let n = taken.length + 1
  while (taken.includes(`control_${n}`)) n++
  set({ controls: [...(v.value?.controls ?? []), { key: `control_${n}`, name: `Control ${n}`, keys: [], mouse: [], pad: [] }] }, 'Added a control')
}
function levels(text: string): void {
  const found = text.split(/[ ,;]+/).map(Number).filter((n) => Number.isInteger(n) && n > 0)
  set({ experience_levels: [...new Set(found)].sort((a, b) => a - b) }, 'Changed the levels of experience')
}
const kinds = computed(() => book.of('kind').map((k) => ({ row: k, uses: book.of('object').filter((o) => o.values.kind === k.key) })))
async function fileIn(event: Event): Promise<void> {
  const field = event.target as HTMLInputElement
  const file = field.files?.[0]
  field.value = ''
  if (!file) return
  const answer = await fetch('/api/projects/file', { method: 'POST', body: file, headers: { 'Content-Type': 'application/octet-stream' } })
  const data = (await answer.json()) as { id?: number; detail?: string; problems?: { message: string; fix: string }[] }
  if (answer.ok && data.id) void router.push(`/p/${data.id}/plan`).then(() => router.go(0))
  else sent.value = data.problems?.map((p) => `${p.message} ${p.fix}`).join(' ') ?? data.detail ?? ''
}
</script>

<template>
  <div v-if="v && settings" class="project">
    <div class="column">
      <h1><EditWord :text="v.name" label="project name" kind="text" @change="(name) => set({ name })" /></h1>
      <SectionHead title="Controls" remember="project-controls">
        <template #note><button class="link" @click="addControl">+ control</button></template>
        <ControlLine v-for="(control, i) in v.controls" :key="control.key" :control="control" :others="v.controls" @change="(values) => setControl(i, values)" @remove="set({ controls: v.controls.filter((_, n) => n !== i) }, 'Removed a control')" />
        <p class="quiet small">A run walks with W A S D and the arrows always; answers and panels are worked with 1 to 9.</p>
      </SectionHead>
      <SectionHead title="Player" remember="project-player">
        <p class="measure">The player is a disc of <EditWord :text="`${v.player.radius_m} m`" label="radius" kind="number" :value="v.player.radius_m" :step="0.05" :min="0.05" @change="(t) => part('player', 'radius_m', t)" /> radius, walks <EditWord :text="`${v.player.speed_mps} m/s`" label="speed" kind="number" :value="v.player.speed_mps" :min="0.1" :max="50" @change="(t) => part('player', 'speed_mps', t)" /> and has eyes at <EditWord :text="`${v.player.eyes_m} m`" label="eyes" kind="number" :value="v.player.eyes_m" :min="0.1" @change="(t) => part('player', 'eyes_m', t)" />. A step of 0.4 m is walked; a drop of more than 3.5 m downs.</p>
      </SectionHead>
      <SectionHead title="Camera" remember="project-camera">
        <p class="measure">A playtest shows <EditWord :text="`${v.camera.view_m} m`" label="view" kind="number" :value="v.camera.view_m" :step="1" :min="4" :max="200" @change="(t) => part('camera', 'view_m', t)" /> of the level across, looks <EditWord :text="`${v.camera.look_ahead_m} m`" label="look ahead" kind="number" :value="v.camera.look_ahead_m" :min="0" :max="20" @change="(t) => part('camera', 'look_ahead_m', t)" /> ahead, and <EditWord :text="v.camera.inside_area ? 'stays inside the level' : 'follows anywhere'" label="inside" kind="choice" :choices="[{ value: '1', label: 'stays inside the level' }, { value: '', label: 'follows anywhere' }]" @change="(t) => set({ camera: { ...v!.camera, inside_area: t === '1' } })" />.</p>
      </SectionHead>
      <SectionHead title="Limits and usual values" remember="project-usual">
        <p class="measure">A step that puts, scatters or drops has at most <EditWord :text="String(v.usual.most_put)" label="most copies" kind="number" :value="v.usual.most_put" :step="1" :min="1" :max="99" @change="(t) => part('usual', 'most_put', String(Math.round(Number(t))))" /> copies at a time unless it says otherwise; a prompt opens and closes in <EditWord :text="`${v.usual.prompt_s} s`" label="prompt seconds" kind="number" :value="v.usual.prompt_s" :step="0.05" :min="0" :max="5" @change="(t) => part('usual', 'prompt_s', t)" />. Money is called <EditWord :text="v.money_name" label="money" kind="text" @change="(t) => set({ money_name: t })" />. The levels of experience from 2 on begin at <EditWord :text="v.experience_levels.join(', ') || 'no sum'" label="experience levels" kind="text" @change="levels" />.</p>
      </SectionHead>
    </div>
    <div class="column">
      <SectionHead title="Kinds" :note="String(kinds.length)" remember="project-kinds">
        <ul>
          <li v-for="k in kinds" :key="k.row.id"><EditWord :text="k.row.values.name" label="kind name" kind="text" @change="(t) => quietly(book.set(k.row.id, { name: t }))" /> <router-link class="link mono small" title="The page of this kind" :to="{ name: 'plan', params: { selected: k.row.key } }">{{ k.row.key }}</router-link> <span class="quiet small">{{ k.uses.length ? '' : 'not placed' }}<template v-for="(o, i) in k.uses.slice(0, 3)" :key="o.id">{{ i ? ', ' : '' }}<router-link class="link" :to="{ name: 'plan', params: { selected: o.key } }">{{ o.values.name }}</router-link></template>{{ k.uses.length > 3 ? ` and ${k.uses.length - 3} more` : '' }}</span></li>
        </ul>
        <p class="quiet small">A kind is changed on its own page, or from any object placed from it with <i>make it the kind’s</i>.</p>
      </SectionHead>
      <SectionHead title="File" remember="project-file">
        <p class="measure"><a class="link" :href="`/api/projects/${book.project}/file`" download>The project file</a>: everything as one readable document. <a class="link" :href="`/api/projects/${book.project}/package`" download>With its sounds</a>: the same and every sound, as one zip.</p>
        <p><label class="link file">Open a file as a new project<input type="file" accept=".json,.zip" aria-label="Open a file as a new project" @change="fileIn" /></label></p>
        <p v-if="sent" class="trouble" role="alert">⚑ {{ sent }}</p>
      </SectionHead>
    </div>
  </div>
</template>

<style scoped>
.project { flex: 1; overflow: auto; display: grid; grid-template-columns: minmax(0, 1fr) minmax(0, 1fr); gap: 0 48px; padding: 20px 36px 40px; background: var(--page); align-content: start; }
ul { list-style: none; margin: 0; padding: 0; } li { border-bottom: 1px dotted var(--rules); padding: 1px 0; }
.file { cursor: pointer; } .file input { position: absolute; width: 1px; height: 1px; opacity: 0; } .file:focus-within { outline: 2px solid var(--ink); }
@media (max-width: 1000px) { .project { grid-template-columns: minmax(0, 1fr); } }
</style>
