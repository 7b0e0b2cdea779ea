import { createGlobalState } from '@vueuse/core'
import { nextTick } from 'vue'

export interface Turns {
  ahead: <T>(work: Promise<T>) => Promise<T>
  afterwards: () => Promise<void>
}

/** Lets the words that somebody has just changed be read before everything that may come a moment later. */
export const useTurns = createGlobalState((): Turns => {
  let first: Promise<unknown> = Promise.resolve()
  function ahead<T>(work: Promise<T>): Promise<T> {
    first = Promise.allSettled([first, work])
    return work
  }
  /** Resolves once everything that went ahead is there; failures are told where that was asked for. */
  async function afterwards(): Promise<void> {
    await nextTick()
    await first
  }
  return { ahead, afterwards }
})
