import { computed, ref, watch, type ComputedRef, type Ref } from 'vue'
import { useRoute, useRouter } from 'vue-router'
import type { RowOf } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import { useBook } from '@/stores/book'
import { useCards } from '@/stores/cards'
import { useWalks } from '@/stores/walks'
import type { PlaytestRun, Told } from './connection'

interface Wiring {
  run: PlaytestRun
  /** What where one stands is called. */
  here: () => string
  /** Where the walk began, in words. */
  began: () => string
  /** The tick that is looked at; null for now. */
  at: () => number | null
  /** Shows the leaf of walks and cards. */
  show: () => void
}
export interface Keeping {
  /** Keeps where one stands as a start card, and what was done so far with it. */
  here: () => void
  /** Keeps what the run had come to when something had happened. */
  then: (one: Told) => void
  walk: (name: string, values: Record<string, unknown>) => void
  notNow: () => void
  /** What a walk is called until somebody says otherwise: the last that it came to. */
  walkName: ComputedRef<string>
  /** The card that was kept last. */
  kept: Ref<RowOf<'card'> | undefined>
  /** Shows a walk that is watched or gone on with; where one came from stays known. */
  watchIt: (query: Record<string, string | number>) => void
}

/** So long a name is at the most. */
const MOST_LETTERS = 100
const TELLING = ['stage', 'quest', 'ended', 'state']

/** What of a walk is kept: a spot of it, all of it, its chronicle as a file. */
export function useKeeping({ run, here, began, at, show }: Wiring): Keeping {
  const book = useBook()
  const cards = useCards()
  const walks = useWalks()
  const { quietly } = useQuietly()
  const route = useRoute()
  const router = useRouter()
  const kept = ref<RowOf<'card'>>()
  let called = ''
  function keep(name: string, moment: number | true): void {
    show()
    called = name.slice(0, MOST_LETTERS)
    run.send({ moment })
  }
  watch(run.moment, (values) => {
    if (values) void quietly(cards.keep(values, called).then((card) => (kept.value = card)))
  })
  watch(run.walked, (now) => now && show())
  const walkName = computed(() => {
    const last = run.chronicle.value.filter((t) => TELLING.includes(t.what)).pop()
    return (last?.text ?? `From ${began()}`).slice(0, MOST_LETTERS)
  })
  function walk(name: string, values: Record<string, unknown>): void {
    run.walked.value = null
    void quietly(walks.keep(values, name))
  }
  function watchIt(query: Record<string, string | number>): void {
    const { from, leaf } = route.query
    const params = { ...route.params, selected: '' }
    void router.push({ name: 'playtest', params, query: { from, leaf, ...query } })
  }
  /** Hands the chronicle over as a file. */
  watch(run.exported, (lines) => {
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([lines], { type: 'application/x-ndjson' }))
    link.download = `${book.settings?.key ?? 'walk'}-chronicle.ndjson`
    link.click()
    URL.revokeObjectURL(link.href)
  })
  return {
    here: () => keep(`At ${here()}`, at() ?? true),
    then: (one) => keep(`After: ${one.text}`, one.tick),
    walk,
    notNow: () => (run.walked.value = null),
    walkName,
    kept,
    watchIt,
  }
}
