import { inject, type ComputedRef, type InjectionKey } from 'vue'

/** Says what a finding has to say of the value at a path of a design; empty for nothing. */
export type Amiss = (path: string) => string
export const AMISS: InjectionKey<ComputedRef<Amiss>> = Symbol('amiss')

/** What is amiss about the values that a word stands among; none where no page tells. */
export function useAmiss(): ComputedRef<Amiss> | null {
  return inject(AMISS, null)
}
