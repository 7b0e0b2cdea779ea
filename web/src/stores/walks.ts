import { watchDebounced } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, shallowRef } from 'vue'
import { answered, api, type EditDone, type RowOf, type Schemas } from '@/api/client'
import { useBook } from './book'
import { useFollowing } from './following'

export type WalkReading = Schemas['WalkReading']
export type RunShape = Schemas['RunShape']

/** So long after the last edit kept walks are walked again. */
const SETTLED_MS = 1500

/** The kept walks: what each comes to in the project as it is, walked again by the server after edits. */
export const useWalks = defineStore('walks', () => {
  const book = useBook()
  const reading = shallowRef<Schemas['WalksReading'] | null>(null)
  const all = computed(() => book.of('walk'))
  const byId = computed(() => new Map((reading.value?.walks ?? []).map((w) => [w.id, w])))
  const byKey = computed(() => new Map((reading.value?.walks ?? []).map((w) => [w.key, w])))
  /** How many come to something else than they were kept for. */
  const parted = computed(() => (reading.value?.walks ?? []).filter((w) => w.same === false && !w.stale).length)
  const { patiently, letGo } = useFollowing(
    async (query) => {
      const path = { project: book.project }
      return answered<Schemas['WalksReading']>(
        query.stamp === undefined
          ? await api.POST('/api/projects/{project}/walks', { params: { path }, body: { do: 'go' } })
          : await api.GET('/api/projects/{project}/walks', { params: { path, query } }),
      )
    },
    (found) => (reading.value = found),
    () => all.value.length > 0,
  )
  watchDebounced([() => book.project, () => book.editNumber], patiently, { debounce: SETTLED_MS, immediate: true })

  async function ask(what: 'again' | 'stop'): Promise<void> {
    letGo()
    const params = { path: { project: book.project } }
    const answer = await api.POST('/api/projects/{project}/walks', { params, body: { do: what } })
    reading.value = answered<Schemas['WalksReading']>(answer)
    if (what === 'again') await patiently()
  }
  /** Keeps a walk under a name that no other has. */
  async function keep(values: Record<string, unknown>, name: string): Promise<RowOf<'walk'> | undefined> {
    const full = { ...values, name: book.freshName('walk', name) }
    const done = await book.edit([{ do: 'add', type: 'walk', values: full as never }], `Kept the walk ${full.name}`)
    return done.rows.find((row): row is RowOf<'walk'> => row.type === 'walk')
  }
  /** Holds a walk to what it comes to now. */
  async function holdToNow(walk: RowOf<'walk'>): Promise<EditDone> {
    const params = { path: { project: book.project, record: walk.id } }
    const now = answered<Schemas['WalkNow']>(await api.GET('/api/projects/{project}/walks/{record}/now', { params }))
    return book.set(walk.id, now.values, `What ${walk.values.name} comes to now is right`)
  }

  // --- runs

  const runs = shallowRef<RunShape[]>([])
  async function readRuns(): Promise<void> {
    const params = { path: { project: book.project } }
    runs.value = answered<RunShape[]>(await api.GET('/api/projects/{project}/runs', { params }))
  }
  async function forget(run: number): Promise<void> {
    const params = { path: { project: book.project, run } }
    runs.value = answered<RunShape[]>(await api.DELETE('/api/projects/{project}/runs/{run}', { params }))
  }
  async function beside(run: number, other: number): Promise<Schemas['ComparedShape']> {
    const params = { path: { project: book.project, run, other } }
    return answered<Schemas['ComparedShape']>(
      await api.GET('/api/projects/{project}/runs/{run}/beside/{other}', { params }),
    )
  }
  return { all, byId, byKey, reading, parted, ask, keep, holdToNow, runs, readRuns, forget, beside }
})
