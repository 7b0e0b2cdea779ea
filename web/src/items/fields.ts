import { asKey } from '@/parts/cueNames'
import { asChoices, type Choice } from '@/parts/choices'
import type { Fields } from '@/parts/fields'
import { ICON_NAMES } from '@/theme/icons'

const DESCRIPTION = {
  label: 'description',
  long: true,
  said: (v: unknown) => String(v) || 'no description yet',
} as const

export const ITEM: Fields = {
  description: DESCRIPTION,
  limit: { label: 'limit' },
  at_start: { label: 'at start', lowest: 0 },
  slot: {
    label: 'slot, empty for no gear',
    said: (v) => (v ? `gear for the ${String(v).replaceAll('_', ' ')}` : 'no gear'),
    kept: asKey,
  },
  icon: { label: 'icon', choices: () => asChoices(ICON_NAMES) },
  text: { label: 'text', long: true, said: (v) => String(v) || 'it holds no text' },
}

export const FACT: Fields = {
  type: { label: 'type', words: { yes_no: 'yes or no', number: 'number' } },
  yes: {
    field: 'at_start',
    label: 'at start',
    choices: () => [{ value: '0', label: 'no' }, { value: '1', label: 'yes' }],
    said: (v) => (v ? 'yes' : 'no'),
    kept: Number,
  },
  at_start: { label: 'at start' },
  lowest: { label: 'lowest' },
  highest: { label: 'highest' },
}

export const ROLE: Fields = { description: DESCRIPTION }
export const SOUND: Fields = { seconds: { label: 'seconds' } }

export function abilityFields(controls: () => Choice[], gear: () => Choice[], name: (key: string) => string): Fields {
  return {
    description: DESCRIPTION,
    control: {
      label: 'control',
      choices: () => [{ value: '', label: 'no control' }, ...controls()],
      said: (v) => (v ? controls().find((c) => c.value === v)?.label ?? String(v) : 'no control yet'),
    },
    gear: {
      label: 'gear',
      choices: () => [{ value: '', label: 'when it was granted' }, ...gear()],
      said: (v) => (v ? `while ${name(String(v))} is in hand, or when granted` : 'when it was granted'),
    },
    range_m: { label: 'range', lowest: 0.1 },
    aim_deg: { label: 'aim', lowest: 1 },
  }
}
