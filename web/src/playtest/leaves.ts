/** The leaves of the page beside a playtest. */
export const LEAVES = [
  { key: 'why', name: 'Why' },
  { key: 'try', name: 'Try values' },
  { key: 'cards', name: 'Walks and cards' },
] as const
export type Leaf = (typeof LEAVES)[number]['key']

/** Whether an address names a leaf. */
export const isLeaf = (value: unknown): value is Leaf => LEAVES.some((one) => one.key === value)
