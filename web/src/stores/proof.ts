import { watchDebounced } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed, shallowRef, watch } from 'vue'
import { answered, api, type ChangeAsked, type EditDone, type RowOf, type Schemas } from '@/api/client'
import { useBook } from './book'
import { useCards } from './cards'
import { useFindings } from './findings'
import { useFollowing } from './following'
import { useTurns } from './turns'
import { useWalks } from './walks'

export type ProofReading = Schemas['ProofReading']
export type Verdict = Schemas['VerdictShape']
export type Remark = Schemas['RemarkShape']
export type Gate = Schemas['GateShape']
export type Way = Schemas['RouteShape']
export type WayOut = Schemas['WayOutShape']

/** So long after the last edit a project is proved again. */
const SETTLED_MS = 3000

/** What the project is proved to be: proved by the server after edits, and followed while it comes on. */
export const useProof = defineStore('proof', () => {
  const book = useBook()
  const cards = useCards()
  const findings = useFindings()
  const walks = useWalks()
  const { afterwards } = useTurns()
  const reading = shallowRef<ProofReading | null>(null)
  const verdicts = computed(
    () => new Map((reading.value?.quests ?? []).flatMap((q) => q.verdicts.map((v) => [v.key, v] as const))),
  )
  /** How many edits were made that the reading does not know of yet. */
  const unread = computed(() => (reading.value ? book.editsSince(reading.value.edit_number) : 0))
  /** How many edits the last whole proof is behind; 0 where what is played is as it was. */
  const behind = computed(() => {
    const now = reading.value
    if (!now?.proved_at || !(now.edits_since || unread.value)) return 0
    return Math.max(1, book.editsSince(now.proved_at))
  })
  const isStale = (one: Verdict): boolean => one.stale || (unread.value > 0 && one.answer !== 'coming')
  const remarksStale = computed(() => !!reading.value?.remarks_stale || unread.value > 0)
  /** How old what is told is, in words. */
  const age = computed(() => `before your last ${behind.value === 1 ? 'edit' : `${behind.value} edits`}`)

  /** Takes in what was read; findings are asked for again where the proof that they speak of is another. */
  function take(found: ProofReading): void {
    const before = reading.value
    reading.value = found
    if (before && !found.going && (before.going || before.proved_at !== found.proved_at)) void findings.again()
  }
  const { patiently, letGo } = useFollowing(async (query) => {
    const path = { project: book.project }
    return answered<ProofReading>(
      query.stamp === undefined
        ? await api.POST('/api/projects/{project}/proof', { params: { path }, body: { do: 'go', budget_s: 0 } })
        : await api.GET('/api/projects/{project}/proof', { params: { path, query } }),
    )
  }, take)
  watch(
    () => book.project,
    () => {
      reading.value = null
      void patiently()
    },
    { immediate: true },
  )
  watchDebounced(() => book.editNumber, patiently, { debounce: SETTLED_MS })

  /** Proves all of it again within so many seconds, or stops. */
  async function ask(what: 'again' | 'stop', budget = reading.value?.budget_s): Promise<void> {
    letGo()
    await afterwards()
    const params = { path: { project: book.project } }
    const body = { do: what, budget_s: budget ?? 600 }
    take(answered<ProofReading>(await api.POST('/api/projects/{project}/proof', { params, body })))
    if (what === 'again') await patiently()
  }
  async function valuesOf(key: string): Promise<Schemas['WayValues']> {
    const [of = '', what = ''] = key.split('/')
    const params = { path: { project: book.project, of, what } }
    return answered<Schemas['WayValues']>(await api.GET('/api/projects/{project}/proof/{of}/{what}', { params }))
  }
  /** Keeps where a way ends as a start card. */
  async function keepEnd(key: string, name: string): Promise<RowOf<'card'> | undefined> {
    const { card } = await valuesOf(key)
    return card ? cards.keep(card, name) : undefined
  }
  /** Keeps a way as a walk that is walked again after every change. */
  async function keepWalk(key: string, name: string): Promise<RowOf<'walk'> | undefined> {
    const { walk } = await valuesOf(key)
    return walk ? walks.keep(walk, name) : undefined
  }
  /** Does what a way out writes. */
  function doIt(out: WayOut): Promise<EditDone> {
    return book.edit(out.changes as unknown as Partial<ChangeAsked>[], out.says)
  }
  return { reading, verdicts, behind, isStale, remarksStale, age, ask, keepEnd, keepWalk, doIt }
})
