import { inject, type InjectionKey } from 'vue'

/**
 * What was on the screen when a word was opened: by the number of the last edit, so that what others change meanwhile
 * is noticed.
 */
export interface Seen {
  now: () => number
  as: (number: number, work: () => void) => void
}

export const SEEN: InjectionKey<Seen> = Symbol('seen')

const UNSHARED: Seen = { now: () => 0, as: (_, work) => work() }

export const useSeen = (): Seen => inject(SEEN, UNSHARED)
