import type { RouteLocationRaw } from 'vue-router'
import type { useBook } from '@/stores/book'

const PLACES: Record<string, string> = {
  project: 'project',
  object: 'plan',
  kind: 'plan',
  area: 'plan',
  wall: 'plan',
  exit: 'plan',
  level: 'plan',
  role: 'items',
  tag: 'items',
  namedneed: 'items',
  quest: 'quests',
  line: 'dialogue',
  conversation: 'dialogue',
  item: 'items',
  fact: 'items',
  ability: 'items',
  sound: 'items',
}

/** The address of the page on which a record is shown: its own, or that of the nearest owner that has one. */
export function leadOf(book: ReturnType<typeof useBook>, record: number): RouteLocationRaw | null {
  let at = book.rows.get(record)
  while (at) {
    const owner = at.owner ? book.rows.get(at.owner) : undefined
    if (at.type === 'stage') return { name: 'quests', params: { selected: `${owner?.key}.${at.key}` } }
    const place = PLACES[at.type]
    if (place) return { name: place, params: { selected: at.key } }
    at = owner
  }
  return null
}
