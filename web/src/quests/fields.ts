import type { Choice } from '@/parts/choices'
import type { Fields } from '@/parts/fields'

const ENDS = { no: 'cannot be', again: 'can be, and offered again', for_good: 'can be, for good' }
const BEADS = { circle: 'circles', diamond: 'diamonds', square: 'squares', triangle: 'triangles', hexagon: 'hexagons' }

export const questFields = (offerers: () => Choice[], name: (key: string) => string): Fields => ({
  name: { label: 'name' },
  summary: { label: 'summary', long: true, said: (v) => String(v) || 'nothing written yet' },
  offered_by: { label: 'offered by', choices: offerers, said: (v) => (v ? name(String(v)) : 'Nobody') },
  decline: { label: 'declined', words: ENDS },
  give_up: { label: 'given up', words: ENDS },
  handed_in: { label: 'handed in', either: ['is ready to be handed in', 'waits for a cue to finish it'] },
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
  state: 'bring about',
  by_hand: 'met by a step',
}

/** What an objective is asked of the project for. */
export interface Aims {
  targets: () => Choice[]
  states: () => Choice[]
  markers: () => Choice[]
  name: (key: string) => string
}
export const objectiveFields = ({ targets, states, markers, name }: Aims): Fields => ({
  name: { label: 'objective name' },
  optional: { label: 'optional', either: ['optional', 'required'] },
  type: { label: 'objective type', words: TYPES },
  count: { label: 'count', lowest: 1 },
  targets: {
    label: 'target',
    choices: targets,
    said: (v) => (v as string[]).map(name).join(', ') || '…',
    kept: (typed) => [typed],
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
