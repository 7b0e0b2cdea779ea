import type { LocationQuery, RouteLocationNormalizedLoaded, RouteLocationRaw } from 'vue-router'
import type { RowOf } from '@/api/client'
import type { useBook } from '@/stores/book'

type Book = ReturnType<typeof useBook>

/** The object that *Walk* begins before: the one selected, or who says the line that is; empty for the start. */
export function walkSubject(route: RouteLocationNormalizedLoaded, book: Book): string {
  const key = String(route.params.selected ?? '')
  if (route.name === 'plan' || route.name === 'playtest') return book.find('object', key) ? key : ''
  if (route.name !== 'dialogue') return ''
  const line = book.find('line', key)
  const talk = line?.owner ? book.rows.get(line.owner) : book.find('conversation', key)
  return talk?.type === 'conversation' ? openedAt(book, talk) : ''
}

/** The object at which a conversation is begun: its talker, or, where that is a role or nobody, one that opens it. */
export function openedAt(book: Book, talk: RowOf<'conversation'>): string {
  if (book.find('object', talk.values.talker)) return talk.values.talker
  const step = new RegExp(`\\bopen conversation ${talk.key}\\b`)
  for (const cue of book.of('cue').filter((c) => step.test(c.values.text))) {
    const owner = book.rows.get(cue.owner ?? 0)
    if (owner?.type === 'object') return owner.key
    const placed = owner?.type === 'kind' && book.of('object').find((o) => o.values.kind === owner.key)
    if (placed) return placed.key
  }
  return ''
}

/** Where *Walk* leads: into a playtest at the selection, or back to where it was begun. */
export function walkTarget(route: RouteLocationNormalizedLoaded, book: Book): RouteLocationRaw {
  const params = { project: route.params.project }
  if (route.name !== 'playtest') {
    const from = `${String(route.name)}/${String(route.params.selected ?? '')}`
    const bead = beadOf(route, book)
    const point = bead ? { as_if: bead, with: route.query.as_if === bead ? route.query.with : undefined } : {}
    return {
      name: 'playtest',
      params: { ...params, selected: walkSubject(route, book) },
      query: { ...withoutWalk(route.query), ...point, spot: spotOf(route) || undefined, from },
    }
  }
  const { place, selected } = cameFrom(route)
  return { name: place, params: { ...params, selected }, query: withoutWalk(route.query) }
}

/** The bead that is selected, as `quest.stage`: a walk from there is as if at it. */
export function beadOf(route: RouteLocationNormalizedLoaded, book: Book): string {
  const selected = route.name === 'quests' ? String(route.params.selected ?? '') : ''
  const [quest, stage] = selected.split('.')
  return stage && book.find('quest', quest ?? '') ? selected : ''
}

/** The spot of the floor that was clicked last with nothing selected, as `x,y` in metres. */
export function spotOf(route: RouteLocationNormalizedLoaded): string {
  return route.name === 'plan' && !route.params.selected ? String(route.query.spot ?? '') : ''
}

const OF_A_WALK = ['from', 'card', 'leaf', 'watch', 'way', 'run', 'resume', 'at', 'spot']
/** What an address asks of every place: where a walk began, and how it is shown, means nothing elsewhere. */
export function withoutWalk(query: LocationQuery): LocationQuery {
  return Object.fromEntries(Object.entries(query).filter(([name]) => !OF_A_WALK.includes(name)))
}

/** Where a playtest was begun from. */
export function cameFrom(route: RouteLocationNormalizedLoaded): { place: string; selected: string } {
  const [place = 'plan', selected = ''] = String(
    route.query.from ?? `plan/${String(route.params.selected ?? '')}`,
  ).split('/')
  return { place, selected }
}
