import type { RouteLocationNormalizedLoaded, RouteLocationRaw } from 'vue-router'
import type { useBook } from '@/stores/book'

type Book = ReturnType<typeof useBook>

/** The object that *Walk* begins before: the one selected, or who says the line that is; empty for the start. */
export function walkSubject(route: RouteLocationNormalizedLoaded, book: Book): string {
  const key = String(route.params.selected ?? '')
  if (route.name === 'plan' || route.name === 'playtest') return book.find('object', key) ? key : ''
  if (route.name !== 'dialogue') return ''
  const line = book.find('line', key)
  const talk = line?.owner ? book.rows.get(line.owner) : book.find('conversation', key)
  return talk?.type === 'conversation' ? talk.values.talker : ''
}

/** Where *Walk* leads: into a playtest at the selection, or back to where it was begun. */
export function walkTarget(route: RouteLocationNormalizedLoaded, book: Book): RouteLocationRaw {
  const params = { project: route.params.project }
  if (route.name !== 'playtest') {
    const from = `${String(route.name)}/${String(route.params.selected ?? '')}`
    return {
      name: 'playtest',
      params: { ...params, selected: walkSubject(route, book) },
      query: { ...route.query, from },
    }
  }
  const { place, selected } = cameFrom(route)
  const { from: _from, ...query } = route.query
  void _from
  return { name: place, params: { ...params, selected }, query }
}

/** Where a playtest was begun from. */
export function cameFrom(route: RouteLocationNormalizedLoaded): { place: string; selected: string } {
  const [place = 'plan', selected = ''] = String(
    route.query.from ?? `plan/${String(route.params.selected ?? '')}`,
  ).split('/')
  return { place, selected }
}
