import type { Row } from '@/api/client'
import { firstWords } from '@/dialogue/wording'

export interface Hit {
  id: number
  name: string
  what: string
  place: string
  selected: string
}

/** Objects, kinds, quests, stages, lines, items, facts and cues whose name, key or text holds what was typed. */
export function found(rows: Row[], typed: string): Hit[] {
  const wanted = typed.trim().toLowerCase()
  if (!wanted) return []
  const byId = new Map(rows.map((r) => [r.id, r]))
  const hits: (Hit & { rank: number })[] = []
  for (const row of rows) {
    const hit = hitOf(row, byId)
    if (!hit) continue
    const name = hit.name.toLowerCase()
    const rank = name.startsWith(wanted)
      ? 0
      : name.includes(wanted) || row.key.includes(wanted)
        ? 1
        : textOf(row).toLowerCase().includes(wanted)
          ? 2
          : 3
    if (rank < 3) hits.push({ ...hit, rank })
  }
  return hits.sort((a, b) => a.rank - b.rank)
}

function textOf(row: Row): string {
  if (row.type === 'cue') return `${row.values.text} ${row.values.draft}`
  if (row.type === 'line') return row.values.wordings.join(' ')
  return ''
}

function hitOf(row: Row, byId: Map<number, Row>): Hit | null {
  const base = { id: row.id }
  const owner = row.owner ? byId.get(row.owner) : undefined
  switch (row.type) {
    case 'object':
      return { ...base, name: row.values.name, what: 'object', place: 'plan', selected: row.key }
    case 'kind':
    case 'exit':
    case 'level':
      return { ...base, name: row.values.name, what: row.type, place: 'plan', selected: row.key }
    case 'role':
    case 'tag':
    case 'namedneed':
      return {
        ...base,
        name: row.values.name,
        what: row.type === 'namedneed' ? 'named need' : row.type,
        place: 'items',
        selected: row.key,
      }
    case 'area':
      return { ...base, name: row.values.name, what: 'area', place: 'plan', selected: row.key }
    case 'quest':
      return { ...base, name: row.values.name, what: 'quest', place: 'quests', selected: row.key }
    case 'stage':
      return { ...base, name: row.values.name, what: 'stage', place: 'quests', selected: `${owner?.key}.${row.key}` }
    case 'line':
      return {
        ...base,
        name: `“${firstWords(row.values.wordings[0] ?? '', 44)}”`,
        what: 'line',
        place: 'dialogue',
        selected: row.key,
      }
    case 'item':
    case 'fact':
    case 'ability':
    case 'sound':
      return { ...base, name: row.values.name, what: row.type, place: 'items', selected: row.key }
    case 'cue':
      if (owner?.type !== 'object' && owner?.type !== 'kind') return null
      return {
        ...base,
        name: owner.values.name,
        what: `cue: ${row.values.text.split('\n').slice(0, 2).join(' ')}`,
        place: 'plan',
        selected: owner.key,
      }
    default:
      return null
  }
}
