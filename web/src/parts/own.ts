import { inject, type ComputedRef, type InjectionKey } from 'vue'

/** The values that an object has of its own, as its words show them. */
export interface OwnValues {
  /**
   * The path of the own value that covers a path, by itself or by something above it; empty where the kind's value
   * stands.
   */
  covering: (path: string) => string
  /** What the kind has there, in words; empty without a kind. */
  ofKind: (path: string) => string
  back: (path: string) => void
  push: (path: string) => void
  /** How many objects have what is changed here from their kind; 0 without a kind. */
  alike: number
  /** Whether what is changed now is changed for all of them; else, as usual, for this one. */
  forAll: boolean
  choose: (forAll: boolean) => void
}
export const OWN_VALUES: InjectionKey<ComputedRef<OwnValues>> = Symbol('own values')

/** The own values that a word stands among; none outside the page of an object. */
export function useOwnValues(): ComputedRef<OwnValues> | null {
  return inject(OWN_VALUES, null)
}
