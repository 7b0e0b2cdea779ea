import type { Choice } from '@/parts/choices'
import { counted } from '@/parts/plural'
import type { Fields } from '@/parts/fields'

const ENDS = { no: 'cannot be', again: 'can be, and offered again', for_good: 'can be, for good' }
const BEADS = { circle: 'circles', diamond: 'diamonds', square: 'squares', triangle: 'triangles', hexagon: 'hexagons' }

export const questFields = (offerers: () => Choice[], name: (key: string) => string): Fields => ({
  name: { label: 'name' },
  summary: { label: 'summary', long: true, said: (v) => String(v) || 'nothing written yet' },
  offered_by: { label: 'offered by', choices: offerers, said: (v) => (v ? name(String(v)) : 'Nobody') },
  decline: { label: 'declined', words: ENDS },
  give_up: { label: 'given up', words: ENDS },
  failing: { label: 'failing', words: { again: 'can be had again', for_good: 'is over for good' } },
  times: {
    label: 'how often',
    said: (v) => (Number(v) === 1 ? 'once' : v ? counted(Number(v), 'time') : 'any number of times'),
  },
  bead: { label: 'bead', words: BEADS },
})

export const stageFields = (onward: () => Choice[]): Fields => ({
  name: { label: 'name' },
  journal: { label: 'journal', long: true, said: (v) => String(v) || 'nothing written yet' },
  then: {
    label: 'all met',
    choices: onward,
    said: (v) => onward().find((o) => o.value === v)?.label ?? String(v),
  },
})

const TYPES = {
  have: 'have',
  use: 'use',
  go: 'go to',
  talk: 'talk to',
  fact: 'make true',
  state: 'see to it that',
  by_hand: 'met by a step',
}

/** What an objective is called until it is known what it asks for. */
export const NEW_OBJECTIVE = 'New objective'
/** Such a one is called by what it asks for. */
export function objectiveName(type: string, target: string): string {
  const words = (TYPES as Record<string, string>)[type] ?? ''
  return `${words.slice(0, 1).toUpperCase()}${words.slice(1)} ${target}`.trim()
}
/** A word of an objective's sentence, where it stands on the page. */
export function wordOf(objective: number, label: string): HTMLElement | null {
  return document.querySelector(`.objective[data-objective="${objective}"] [data-word="${label}"]`)
}

/** So long, as one says it: 45 s, 3 min, 3 min 20 s. */
export function duration(seconds: number): string {
  const [minutes, rest] = [Math.floor(seconds / 60), Math.round((seconds % 60) * 10) / 10]
  return [...(minutes ? [`${minutes} min`] : []), ...(rest || !minutes ? [`${rest} s`] : [])].join(' ')
}

/** What an objective is asked of the project for. */
export interface Aims {
  states: () => Choice[]
  markers: () => Choice[]
  name: (key: string) => string
}
export const objectiveFields = ({ states, markers, name }: Aims): Fields => ({
  name: { label: 'objective name' },
  optional: { label: 'optional', either: ['optional', 'required'] },
  type: { label: 'objective type', words: TYPES },
  count: { label: 'count', lowest: 1 },
  hidden: { label: 'hidden', either: ['hidden from the player', 'shown to the player'] },
  time_s: {
    label: 'time limit in seconds, empty for none',
    said: (v) => (v ? `within ${duration(Number(v))}` : 'no time limit'),
    lowest: 0.1,
    step: 5,
  },
  state: {
    label: 'state',
    choices: states,
    said: (v) => states().find((s) => s.value === v)?.label ?? (String(v) || '…'),
  },
  marker: {
    label: 'marker',
    choices: markers,
    said: (v) => (v ? `marker on ${name(String(v))}` : 'no marker'),
  },
})
