import { useEventListener } from '@vueuse/core'
import { ref } from 'vue'

/** How long to wait before what did not reach the server is sent again. */
const AGAIN_S = 5

/** The seconds until it is tried again; 0 while the server can be reached. */
export const triedAgainIn = ref(0)

let pause: Promise<void> | null = null
let over: () => void = () => undefined

/**
 * What a call gives. One that does not reach the server is made again until it does; an answer of the server is an
 * answer.
 */
export async function reaching<T>(call: () => Promise<T>, kept: () => void = () => undefined): Promise<T> {
  for (;;) {
    try {
      const answer = await call()
      triedAgainIn.value = 0
      return answer
    } catch (error) {
      if (!(error instanceof TypeError)) throw error
      kept()
      await (pause ??= waiting())
    }
  }
}

function waiting(): Promise<void> {
  triedAgainIn.value = AGAIN_S
  return new Promise((go) => {
    const clock = setInterval(() => (triedAgainIn.value > 1 ? (triedAgainIn.value -= 1) : over()), 1000)
    over = () => {
      clearInterval(clock)
      pause = null
      go()
    }
  })
}

/** Try again at once. */
export function tryNow(): void {
  if (pause) over()
}
useEventListener(window, 'online', tryNow)
