import { RefusedError } from '@/api/client'

export interface Quietly {
  quietly: (work: Promise<unknown>) => Promise<boolean>
}

/** Waits for an edit; a refusal is already shown by the book, any other error goes on. True when it was done. */
export function useQuietly(): Quietly {
  async function quietly(work: Promise<unknown>): Promise<boolean> {
    try {
      await work
      return true
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
      return false
    }
  }
  return { quietly }
}
