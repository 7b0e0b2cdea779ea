import { defineStore } from 'pinia'
import { computed } from 'vue'
import type { RouteLocationNormalizedLoaded, RouteLocationRaw } from 'vue-router'
import { answered, api, type RowOf, type Schemas } from '@/api/client'
import { useBook } from './book'
import { useReadings } from './readings'

/** The start cards: what each holds in words, what of it fits no more, and how one is made. */
export const useCards = defineStore('cards', () => {
  const book = useBook()
  const readings = useReadings<Schemas['CardReading']>((path) =>
    api.GET('/api/projects/{project}/cards', { params: { path } }),
  )
  const byId = computed(() => new Map(readings.value.map((r) => [r.id, r])))
  const all = computed(() => book.of('card'))

  /** Keeps a card under a name that no other has; the record. */
  async function keep(values: Record<string, unknown>, name: string): Promise<RowOf<'card'> | undefined> {
    const full = { ...values, name: book.freshName('card', name), digit: freeDigit() }
    const done = await book.edit([{ do: 'add', type: 'card', values: full as never }], `Kept a start card`)
    return done.rows.find((row): row is RowOf<'card'> => row.type === 'card')
  }
  /** Keeps a card for a point to be as if at, or for the beginning. */
  async function keepPoint(
    point: { quest: string; stage: string; changes: string; at: string },
    name: string,
  ): Promise<RowOf<'card'> | undefined> {
    const params = { path: { project: book.project }, query: point }
    const values = answered(await api.GET('/api/projects/{project}/cards/point', { params }))
    return keep(values, name)
  }
  /** The first digit that begins no walk yet. */
  function freeDigit(): string {
    const taken = new Set(all.value.map((c) => c.values.digit))
    return ['1', '2', '3', '4', '5', '6', '7', '8', '9'].find((d) => !taken.has(d as never)) ?? ''
  }
  const onDigit = (digit: string): RowOf<'card'> | undefined => all.value.find((c) => c.values.digit === digit)
  /** Where a walk from a card is; it leads back to where it was begun. */
  function walkFrom(card: RowOf<'card'>, route: RouteLocationNormalizedLoaded): RouteLocationRaw {
    const here = `${String(route.name)}/${String(route.params.selected ?? '')}`
    const from = route.name === 'playtest' ? route.query.from : here
    const params = { project: route.params.project, selected: '' }
    return { name: 'playtest', params, query: { card: card.key, from } }
  }
  return { all, byId, keep, keepPoint, onDigit, walkFrom }
})
