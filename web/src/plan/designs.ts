import type { RowOf, Schemas } from '@/api/client'
import { PLAIN_DESIGN } from '@/api/described'

export type Design = Schemas['Design']
export type Reach = Schemas['Reach']
export type State = Schemas['State']

export interface Placed {
  row: RowOf<'object'>
  kind: RowOf<'kind'> | undefined
  design: Design
}

/** What a page speaks of: an object where it stands, or a kind by itself, which stands nowhere. */
export interface Subject {
  row?: RowOf<'object'>
  kind: RowOf<'kind'> | undefined
  design: Design
}

type Plain = Record<string, unknown>

const PLAIN = PLAIN_DESIGN as Design

/** An object with its design: the one that the server gave with it where it has values of its own, else its kind's. */
export function placed(row: RowOf<'object'>, kinds: Map<string, RowOf<'kind'>>): Placed {
  const kind = kinds.get(row.values.kind)
  return { row, kind, design: row.design ?? kind?.values.design ?? PLAIN }
}

/** A design with values at paths that it has: what is shown of a change until the server has carried it out. */
export function touched(design: Design, values: Plain): Design {
  const data = JSON.parse(JSON.stringify(design)) as Plain
  for (const [path, value] of Object.entries(values)) {
    const holder = holderOf(data, path)
    if (holder) holder[path.split('.').pop() as string] = value
  }
  return data as unknown as Design
}

/** The value at a path of a design; undefined where there is none. */
export function valueAt(design: Design, path: string): unknown {
  return holderOf(design as unknown as Plain, path)?.[path.split('.').pop() as string]
}

function holderOf(data: Plain, path: string): Plain | undefined {
  let here: unknown = data
  for (const part of path.split('.').slice(0, -1)) {
    here = Array.isArray(here) ? here.find((m: Plain) => m.key === part) : (here as Plain | undefined)?.[part]
  }
  return typeof here === 'object' && here !== null && !Array.isArray(here) ? (here as Plain) : undefined
}

const UNITS: Record<string, string> = { m: ' m', s: ' s', deg: '°', mps: ' m/s' }
const UNIT = /_(m|s|deg|mps)$/

/** What a path of a design speaks of, in words: *reach radius*, *prompt when unusable*, *content*. */
export function pathWords(path: string): string {
  const parts = path
    .replace(UNIT, '')
    .replace(/^values\./, '')
    .split('.')
  return parts
    .filter((part, i) => !(parts[0] === 'prompts' && i === 1))
    .join(' ')
    .replace(/^prompts /, 'prompt ')
    .replace(/^states /, 'state ')
    .replaceAll('_', ' ')
}

/** A value of a design in words, with the unit of its path: names for keys, what a list holds by its names. */
export function spoken(value: unknown, name: (key: string) => string, path = ''): string {
  if (typeof value === 'number') return `${value}${UNITS[UNIT.exec(path)?.[1] ?? ''] ?? ''}`
  if (value === null || value === undefined || value === '' || value === '?') return 'none'
  if (typeof value === 'boolean') return value ? 'yes' : 'no'
  if (Array.isArray(value)) return value.length ? value.map((v) => spoken(v, name)).join(', ') : 'none'
  if (typeof value === 'object') {
    const { name: called, wording, key } = value as Plain
    return String(
      called ??
        wording ??
        key ??
        Object.entries(value)
          .map(([k, v]) => `${k.replaceAll('_', ' ')} ${spoken(v, name)}`)
          .join(', '),
    )
  }
  return typeof value === 'string' ? name(value) : String(value)
}
