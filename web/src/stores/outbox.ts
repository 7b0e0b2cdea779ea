import { useEventListener } from '@vueuse/core'
import { ref, type Ref } from 'vue'

export interface Outbox {
  pending: Ref<number>
  inTurn: <T>(work: () => Promise<T>) => Promise<T>
  aside: (work: () => Promise<void>) => void
  settled: () => Promise<void>
}

/**
 * Does what is asked one after another, each based on the answer to the one before; leaving the page meanwhile asks
 * first.
 */
export function useOutbox(): Outbox {
  const pending = ref(0)
  let queue: Promise<unknown> = Promise.resolve()
  function inTurn<T>(work: () => Promise<T>): Promise<T> {
    pending.value += 1
    const turn = queue.then(work, work).finally(() => (pending.value -= 1))
    queue = turn.catch(() => undefined)
    return turn
  }
  /** Something that nobody waits for, in its turn. */
  function aside(work: () => Promise<void>): void {
    queue = queue.then(work, work)
  }
  /** Resolves once nothing is under way: names are then what the server has. */
  async function settled(): Promise<void> {
    while (pending.value) await queue
  }
  useEventListener(window, 'beforeunload', (event) => {
    if (pending.value) event.preventDefault()
  })
  return { pending, inTurn, aside, settled }
}
