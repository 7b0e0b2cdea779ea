<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { answered, api, RefusedError, type Problem, type Schemas } from '@/api/client'
import Problems from '@/parts/Problems.vue'
import { useFiles } from './files'
import { isLast, leftAt } from './lastOpen'
import SmallPlan from './SmallPlan.vue'
import WorkLine from '@/parts/WorkLine.vue'
import { counted } from '@/parts/plural'

const ACCEPTED = '.json,.zip,application/json,application/zip'
const router = useRouter()
const projects = ref<Schemas['ProjectLine'][] | null>(null)
const problems = ref<Problem[]>([])
const name = ref('')
const deleted = ref<Schemas['DeletedLine'][]>([])
const file = ref<HTMLInputElement | null>(null)
const { work, fileIn: takeIn, fileOut: giveOut } = useFiles()

async function read(): Promise<void> {
  projects.value = answered<Schemas['ProjectLine'][]>(await api.GET('/api/projects'))
  deleted.value = answered<Schemas['DeletedLine'][]>(await api.GET('/api/projects/deleted'))
}
async function guarded(act: () => Promise<void>): Promise<void> {
  problems.value = []
  try {
    await act()
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
    problems.value = error.refusal.problems
  }
}
const make = (): Promise<void> =>
  guarded(async () => {
    const made = answered<{ id?: number }>(await api.POST('/api/projects', { body: { name: name.value.trim() } }))
    await router.push(`/p/${made.id}/plan`)
  })
const copy = (id: number): Promise<void> =>
  guarded(async () => {
    await work.watched(async (job) => {
      answered(await api.POST('/api/projects/{project}/copy', { params: { path: { project: id }, query: { job } } }))
    })
    await read()
  })
const remove = (one: { id: number; name: string }): Promise<void> =>
  guarded(async () => {
    answered(await api.DELETE('/api/projects/{project}', { params: { path: { project: one.id } } }))
    await read()
  })
const bringBack = (id: number): Promise<void> =>
  guarded(async () => {
    answered(await api.POST('/api/projects/{project}/back', { params: { path: { project: id } } }))
    await read()
  })
const fileIn = (event: Event): Promise<void> =>
  guarded(async () => {
    const chosen = (event.target as HTMLInputElement).files?.[0]
    if (!chosen) return
    try {
      const made = await takeIn(chosen)
      if (made) await router.push(`/p/${made}/plan`)
    } finally {
      if (file.value) file.value.value = ''
    }
  })
const fileOut = (one: { id: number }, what: 'file' | 'package'): Promise<void> => guarded(() => giveOut(one.id, what))
function day(iso: string): string {
  return new Date(iso).toLocaleString('en-GB', { day: 'numeric', month: 'short', hour: '2-digit', minute: '2-digit' })
}
function date(iso: string): string {
  return new Date(iso).toLocaleDateString('en-GB', { day: 'numeric', month: 'long' })
}
/** What a project is a copy of, and where it was left. */
function standing(one: Schemas['ProjectLine']): string {
  const at = leftAt(one.id)
  const open = at ? `${isLast(one.id) ? 'open last' : 'left'} at ${at.place}` : ''
  return [one.copy_of && `copy of ${one.copy_of}`, open].filter(Boolean).join(' · ')
}
onMounted(() => void guarded(read))
</script>

<template>
  <div class="projects">
    <header>
      <h1>Vocanta</h1>
      <p class="quiet">Levels that answer: objects, talk and quests, set up in sentences and walked at once.</p>
    </header>
    <form @submit.prevent="make">
      <input v-model="name" aria-label="Name of a new project" placeholder="name of a new project" maxlength="120" />
      <v-btn type="submit" class="go" rounded="pill" :disabled="!name.trim()">Begin it</v-btn>
      <span class="gap" />
      <label class="link file">
        file in
        <input ref="file" type="file" :accept="ACCEPTED" aria-label="File in a project" @change="fileIn" />
      </label>
    </form>
    <WorkLine :work="work" />
    <Problems :problems="problems" />
    <ul v-if="projects?.length">
      <li v-for="one in projects" :key="one.id">
        <SmallPlan :plan="one.plan" />
        <div class="about">
          <router-link class="open" :to="leftAt(one.id)?.path ?? `/p/${one.id}/plan`">{{ one.name }}</router-link>
          <span class="quiet small">
            {{ counted(one.levels, 'level') }}, {{ counted(one.objects, 'object') }},
            {{ counted(one.quests, 'quest') }} · changed {{ day(one.changed_at) }}
          </span>
          <span v-if="one.copy_of || leftAt(one.id)" class="quiet small">{{ standing(one) }}</span>
        </div>
        <span class="gap" />
        <span class="small quiet tools">
          <button class="link" :aria-label="`Copy ${one.name}`" @click="copy(one.id)">copy</button>
          <button class="link" :aria-label="`File out ${one.name}`" @click="fileOut(one, 'file')">file out</button>
          <button class="link" :aria-label="`File out ${one.name} with its sounds`" @click="fileOut(one, 'package')">
            with sounds
          </button>
          <button class="link" :aria-label="`Delete ${one.name}`" @click="remove(one)">delete</button>
        </span>
      </li>
    </ul>
    <p v-else-if="projects" class="empty quiet">
      No project yet. Give one a name above; it begins with one room, a start, and nothing in the way.
    </p>
    <section v-if="deleted.length" class="deleted" aria-label="Deleted projects" role="status">
      <h2 class="quiet small">Deleted</h2>
      <p v-for="one in deleted" :key="one.id" class="back">
        <span class="name">{{ one.name }}</span>
        <span class="quiet small">is erased on {{ date(one.erased_at) }}</span>
        <button class="link" :aria-label="`Bring ${one.name} back`" @click="bringBack(one.id)">Bring it back</button>
      </p>
    </section>
  </div>
</template>

<style scoped>
.projects { max-width: 860px; margin: 0 auto; padding: 56px 24px; width: 100%; }
h1 { font-size: 32px; }
form { display: flex; align-items: center; gap: 12px; margin: 28px 0 12px; }
input:not([type='file']) {
  width: 300px; border: 0; border-bottom: 2px solid var(--line); background: none; font: inherit;
  padding: 4px 2px; outline-offset: 4px;
}
.go {
  padding: 0 18px !important; background: var(--ink) !important; color: var(--page) !important;
  text-transform: none; letter-spacing: 0;
}
.gap { flex: 1; }
.file { cursor: pointer; } .file input { position: absolute; opacity: 0; width: 1px; height: 1px; }
.file:focus-within { outline: 2px solid var(--ink); outline-offset: 3px; }
ul { list-style: none; padding: 0; margin: 12px 0; border-top: 1px solid var(--rules); }
.about { display: flex; flex-direction: column; gap: 1px; min-width: 0; }
li { display: flex; align-items: center; gap: 16px; padding: 10px 2px; border-bottom: 1px solid var(--rules); }
.open { font-family: var(--head); font-size: 18px; font-weight: 650; text-decoration: none; overflow-wrap: anywhere; }
.open:hover { text-decoration: underline; }
.tools { display: flex; gap: 12px; white-space: nowrap; }
.deleted { margin-top: 36px; } .deleted h2 { font: inherit; font-size: 13px; }
.back { display: flex; align-items: baseline; gap: 12px; padding: 6px 2px; margin: 0; border-bottom: 1px solid var(--rules); }
.back .name { overflow-wrap: anywhere; }
</style>
