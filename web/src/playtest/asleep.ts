import { useDocumentVisibility } from '@vueuse/core'
import { watch } from 'vue'
import type { PlaytestRun } from './connection'

/** A run whose tab is hidden stands still until it is looked at again: nobody plays what nobody sees. */
export function useAsleep(run: PlaytestRun): void {
  const visibility = useDocumentVisibility()
  let stopped = false
  watch(visibility, (now) => {
    if (now === 'hidden' && !run.paused.value) {
      stopped = true
      run.send({ do: 'pause' })
    } else if (now === 'visible' && stopped) {
      stopped = false
      run.send({ do: 'go' })
    }
  })
}
