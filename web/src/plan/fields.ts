import { asChoices, type Field, type Fields } from '@/parts/fields'
import type { Choice } from '@/parts/choices'
import { ICON_NAMES } from '@/theme/icons'
import { counted } from '@/parts/plural'

const percent = (label: string): Field => ({
  label,
  said: (v) => `${Math.round(Number(v) * 100)} %`,
  typed: (v) => Math.round(Number(v) * 100),
  kept: (typed) => (Number.isFinite(Number(typed)) ? Number(typed) / 100 : undefined),
  lowest: 0,
  highest: 100,
  step: 1,
})
const UNUSABLE = { hidden: 'hidden', dimmed: 'dimmed with the reason', usual: 'shown as usual' }

/** What a page asks of the project for its choices. */
export interface Around {
  controls: () => Choice[]
  /** The states of the thing, and any. */
  states: () => Choice[]
  who: () => Choice[]
}

export function promptFields(around: Around): Fields {
  const shown = (choices: Choice[], value: string): string => choices.find((c) => c.value === value)?.label ?? value
  return {
    hold: {
      field: 'hold_s',
      label: 'press or hold',
      choices: () => [
        { value: '0', label: 'press' },
        { value: '1', label: 'hold' },
      ],
      said: (v) => (Number(v) > 0 ? 'Hold' : 'Press'),
      kept: Number,
    },
    hold_s: { label: 'hold seconds', said: (v) => `${Number(v).toFixed(1)} s`, lowest: 0.1 },
    control: { label: 'control', choices: around.controls, said: (v) => shown(around.controls(), String(v)) },
    states: {
      label: 'states',
      choices: around.states,
      said: (v) => (v as string[]).map((k) => shown(around.states(), k)).join(' or ') || 'in any state',
      kept: (typed) => (typed ? [typed] : []),
    },
    place: { label: 'place', words: { object: 'above it', screen: 'fixed on the screen' } },
    screen_x: percent('across the screen, percent'),
    screen_y: percent('down the screen, percent'),
    offset_x_m: { label: 'offset east' },
    offset_y_m: { label: 'offset north' },
    opens_s: {
      label: 'opening seconds, empty for the usual',
      said: (v) => (v === null ? 'the usual time' : `${v} s`),
    },
    when_unusable: { label: 'not usable yet', words: UNUSABLE },
  }
}

/** A button of a panel, by its place. */
export const buttonFields = (number: number): Fields => ({
  wording: { label: `button ${number}` },
  when_unusable: { label: `button ${number} while it cannot be used`, words: UNUSABLE },
})

export function reachFields(around: Pick<Around, 'who'>): Fields {
  const whoWords = (keys: string): string =>
    around.who().find((w) => w.value === keys)?.label ?? keys.replaceAll(',', ' and ')
  return {
    shape: { label: 'reach shape', words: { circle: 'a circle', box: 'a box', wedge: 'a wedge', none: 'none' } },
    radius_m: { label: 'reach size', lowest: 0.1 },
    width_m: { label: 'reach width', lowest: 0.1 },
    depth_m: { label: 'reach depth', lowest: 0.1 },
    arc_deg: { label: 'reach arc', lowest: 5 },
    moves_with_part: { label: 'stays put', either: ['moves with the part', 'stays put'] },
    facing: {
      field: 'facing_deg',
      label: 'facing',
      choices: () => [
        { value: '', label: 'facing anywhere' },
        { value: '70', label: 'facing it' },
      ],
      said: () => 'facing anywhere',
      kept: (typed) => (typed ? Number(typed) : null),
    },
    facing_deg: { label: 'facing, empty for any', lowest: 5 },
    sight: {
      field: 'sight_m',
      label: 'sight',
      choices: () => [
        { value: '', label: 'through anything' },
        { value: '4', label: 'in clear sight' },
      ],
      said: () => 'through anything',
      kept: (typed) => (typed ? Number(typed) : null),
    },
    sight_m: { label: 'sight, empty for any', lowest: 0.5 },
    who: {
      label: 'who counts',
      choices: around.who,
      said: (v) => whoWords((v as string[]).join(',')),
      kept: (typed) => typed.split(','),
    },
    below_m: { label: 'floors below' },
    above_m: { label: 'floors above' },
    offset_x_m: { label: 'offset across', unit: '' },
    offset_y_m: { label: 'offset ahead' },
    priority: { label: 'priority' },
  }
}

export const BODY: Fields = {
  shape: { label: 'body shape', words: { box: 'box', circle: 'circle', none: 'no body' } },
  width_m: { label: 'width', unit: '', lowest: 0.05 },
  depth_m: { label: 'depth', unit: '', lowest: 0.05 },
  height_m: { label: 'height', lowest: 0.05 },
}

/** A number of times as it is typed: *once*, *3 times*, *any*; undefined for nonsense. */
function timesOf(typed: string): number | undefined {
  const words = typed.trim().toLowerCase()
  const said = { once: 1, twice: 2, '': 0 }[words]
  if (said !== undefined) return said
  if (/^(any|unlimited|always|no limit)/.test(words)) return 0
  const number = /^(\d{1,6})( times?)?$/.exec(words)
  return number ? Number(number[1]) : undefined
}
/** What lies in the design itself. */
export const DESIGN: Fields = {
  uses: {
    label: 'uses',
    said: (v) => (Number(v) === 1 ? 'once' : v ? counted(Number(v), 'time') : 'any number of times'),
    kept: timesOf,
  },
  cool_down_s: { label: 'cool-down seconds', said: (v) => (v ? `${v} s` : 'no time') },
  fresh: { label: 'memory', either: ['fresh each visit', 'kept across levels'] },
  comes_back_s: {
    label: 'comes back after seconds, empty to stay down',
    said: (v) => (v === null ? 'stays down' : `comes back after ${v} s`),
  },
  icon: { label: 'icon', choices: () => asChoices(ICON_NAMES) },
  walks: { label: 'walks', either: ['walks', 'stands'] },
  speed_mps: { label: 'speed', lowest: 0.1 },
}

/** Where an object stands, and whether it is there from the start. */
export const PLACED: Fields = {
  turn_deg: { label: 'turn', step: 15 },
  x_m: { label: 'x', unit: '', step: 0.25 },
  y_m: { label: 'y', unit: '', step: 0.25 },
  there_at_start: { label: 'at the start', either: ['there', 'not there yet'] },
}

export const STATE: Fields = {
  name: { label: 'state name' },
  blocks: { label: 'blocks', either: ['blocks the way', 'lets one through'] },
  lets_sight_through: { label: 'sight', either: ['lets sight through', 'stops sight'] },
  lit: { label: 'look', either: ['lit', 'plain'] },
  reach_on: { label: 'reach on', either: ['can be reached', 'cannot be reached'] },
  swing_deg: { label: 'swing' },
  slide_x_m: { label: 'slide' },
  slide_y_m: { label: 'slide ahead' },
  icon: {
    label: 'icon',
    choices: () => [{ value: '', label: 'the usual one' }, ...asChoices(ICON_NAMES)],
    said: (v) => String(v) || 'the usual one',
  },
}

export const MOTION: Fields = {
  seconds: { label: 'motion seconds', said: (v) => (v ? `${v} s` : 'at once') },
  easing: { label: 'easing' },
  while_moving: {
    label: 'while moving',
    words: { turned_back: 'turns back', ignored: 'ignored', queued: 'kept until it has arrived' },
  },
  stay_clear: { label: 'stay clear', either: ['never moves onto somebody', 'moves whoever stands there or not'] },
  hinge_x_m: { label: 'hinge across', unit: '', step: 0.05 },
  hinge_y_m: { label: 'hinge ahead', step: 0.05 },
}

export const exitFields = (levels: () => Choice[], name: (key: string) => string): Fields => ({
  to_level: { label: 'leads to', choices: levels, said: (v) => (v ? name(String(v)) : 'nowhere') },
  to_x_m: { label: 'to x', unit: '', step: 0.25 },
  to_y_m: { label: 'to y', unit: '', step: 0.25 },
  to_facing_deg: { label: 'facing', step: 15 },
  open_at_start: { label: 'open at the start', either: ['open', 'closed'] },
  width_m: { label: 'width', unit: '', lowest: 0.1 },
  depth_m: { label: 'depth', lowest: 0.1 },
  turn_deg: { label: 'turn', step: 15 },
  x_m: { label: 'x', unit: '', step: 0.25 },
  y_m: { label: 'y', unit: '', step: 0.25 },
})

export const LEVEL: Fields = {
  start_x_m: { label: 'start x', unit: '', step: 0.25 },
  start_y_m: { label: 'start y', unit: '', step: 0.25 },
  start_facing_deg: { label: 'start facing', step: 15 },
}

export const ENDING: Fields = {
  outcome: { label: 'outcome', words: { won: 'won', lost: 'lost' } },
  after_s: { label: 'seconds after', said: (v) => (v ? `${v} s later` : 'at once') },
}

export const AREA: Fields = { floor_m: { label: 'floor height' }, tint: { label: 'tint' } }

export const WALL: Fields = {
  glass: { label: 'glass', either: ['glass: nobody passes, sight does', 'solid: stops walking and sight'] },
  ceiling: {
    field: 'height_m',
    label: 'height',
    choices: () => [
      { value: '', label: 'reaches the ceiling' },
      { value: '1', label: 'is lower' },
    ],
    said: () => 'reaches the ceiling',
    kept: (typed) => (typed ? Number(typed) : null),
  },
  height_m: { label: 'height, empty for the ceiling', lowest: 0.1 },
}
