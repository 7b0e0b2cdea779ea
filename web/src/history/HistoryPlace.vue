<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { answered, api, RefusedError, type Problem, type Schemas } from '@/api/client'
import Spread from '@/parts/Spread.vue'
import Problems from '@/parts/Problems.vue'
import { useBook } from '@/stores/book'

/** Every edit as a sentence, newest first; each can be undone by itself, and edits that met are shown side by side. */
interface Side {
  key?: string
  values?: Record<string, unknown>
}
interface Met {
  record: number
  yours: Side | null
  theirs: Side | null
}

const book = useBook()
const lines = ref<Schemas['HistoryLine'][]>([])
const wanted = ref('')
const problems = ref<Problem[]>([])
const met = ref<Met[]>([])
const asked = ref(0)
const shown = computed(() =>
  lines.value.filter((l) => l.name.toLowerCase().includes(wanted.value.trim().toLowerCase())),
)
const days = computed(() => {
  const found = new Map<string, Schemas['HistoryLine'][]>()
  for (const line of shown.value) {
    const day = new Date(line.at).toLocaleDateString('en-GB', { weekday: 'long', day: 'numeric', month: 'long' })
    found.set(day, [...(found.get(day) ?? []), line])
  }
  return [...found]
})

watch(
  () => book.editNumber,
  async () => {
    const query = { tab: book.tab }
    lines.value = answered<Schemas['HistoryLine'][]>(
      await api.GET('/api/projects/{project}/edits', { params: { path: { project: book.project }, query } }),
    )
  },
  { immediate: true },
)

function clock(at: string): string {
  return new Date(at).toLocaleTimeString('en-GB', { hour: '2-digit', minute: '2-digit' })
}
function who(line: Schemas['HistoryLine']): string {
  return line.mine ? 'you' : `another tab (${line.tab.slice(0, 4)})`
}
async function undo(number: number): Promise<void> {
  problems.value = []
  met.value = []
  asked.value = number
  try {
    await book.undoOne(number)
  } catch (error) {
    if (!(error instanceof RefusedError)) throw error
    problems.value = error.refusal.problems
    met.value = (error.refusal as unknown as { sides?: Met[] }).sides ?? []
    book.refusal = null
  }
}
/** The values in which the two sides differ, one sentence each. */
function differences(one: Met): { field: string; yours: string; theirs: string }[] {
  const [mine, other] = [one.yours?.values ?? {}, one.theirs?.values ?? {}]
  return Object.keys({ ...mine, ...other })
    .filter((f) => JSON.stringify(mine[f]) !== JSON.stringify(other[f]))
    .map((f) => ({ field: f.replaceAll('_', ' '), yours: words(mine[f]), theirs: words(other[f]) }))
}
function words(value: unknown): string {
  return value === undefined ? 'nothing' : typeof value === 'string' ? value : JSON.stringify(value)
}
async function take(one: Met, field: string): Promise<void> {
  const name = field.replaceAll(' ', '_')
  await book.set(one.record, { [name]: one.yours?.values?.[name] }, `Took the earlier ${field}`)
  met.value = met.value.filter((m) => m !== one)
  problems.value = []
}
</script>

<template>
  <Spread>
    <template #left>
      <section class="history">
        <header>
          <h1>History</h1>
          <input v-model="wanted" aria-label="Filter the history" placeholder="filter" @keydown.stop />
        </header>
        <p v-if="!lines.length" class="quiet">
          Nothing was changed yet. Every change of this project will stand here as a sentence, and can be taken back.
        </p>
        <template v-for="[day, list] in days" :key="day">
          <h2>{{ day }}</h2>
          <ul>
            <li
              v-for="line in list"
              :key="line.number"
              :class="{ undone: line.state === 'undone', asked: line.number === asked && problems.length }"
            >
              <span class="mono quiet small">{{ clock(line.at) }}</span>
              <span class="what">{{ line.name }}</span>
              <span class="quiet small">{{ line.state === 'undone' ? 'undone' : who(line) }}</span>
              <button
                v-if="line.state === 'done'"
                class="link small"
                :aria-label="`Undo: ${line.name}`"
                @click="undo(line.number)"
              >
                undo this one
              </button>
            </li>
          </ul>
        </template>
      </section>
    </template>
    <template v-if="problems.length">
      <h1>Two edits met</h1>
      <Problems :problems="problems" />
      <section v-for="one in met" :key="one.record" class="sides">
        <h2>{{ book.name(String(one.theirs?.key ?? one.yours?.key ?? '')) }}</h2>
        <p v-if="!one.theirs" class="quiet">It has been deleted since.</p>
        <div v-for="d in differences(one)" v-else :key="d.field" class="both">
          <p class="quiet small">{{ d.field }}</p>
          <p>
            <span class="side"><b>as that edit left it</b> {{ d.yours }}</span
            ><span class="side"><b>as it is now</b> {{ d.theirs }}</span>
          </p>
          <p>
            <button class="link small" @click="take(one, d.field)">take the earlier</button> ·
            <button class="link small" @click="problems = []">keep what is now</button>
          </p>
        </div>
      </section>
    </template>
    <div v-else class="quiet">
      <h1>What was changed</h1>
      <p>
        Newest first. <i>Undo this one</i> takes back a single edit and leaves what came after it; that is an edit too,
        and can be undone. Where somebody changed the same thing since, both sides are shown here.
      </p>
    </div>
  </Spread>
</template>

<style scoped>
.history { flex: 1; overflow: auto; padding: 16px 24px 30px; }
header { display: flex; align-items: baseline; gap: 20px; }
header input { flex: 1; border: 0; border-bottom: 1.5px solid var(--line); background: none; font: inherit; }
h2 { margin-top: 16px; border-bottom: 1px solid var(--rules); }
ul { list-style: none; margin: 0; padding: 0; }
li { display: flex; gap: 12px; align-items: baseline; padding: 1px 0; border-bottom: 1px dotted var(--rules); }
.what { flex: 1; } .undone .what { text-decoration: line-through; color: var(--pencil); }
.asked { background: var(--shade); }
.sides { margin-top: 12px; } .both { border-left: 3px solid var(--ink); padding-left: 12px; margin: 8px 0; }
.side { display: block; overflow-wrap: anywhere; }
.side b { font-weight: 600; color: var(--pencil); margin-right: 8px; }
</style>
