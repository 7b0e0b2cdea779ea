import { computed, type ComputedRef } from 'vue'
import type { PlaytestRun } from './connection'

export interface StateWords {
  /** What keeps the run from going, in words; empty while it goes. */
  state: ComputedRef<string>
  /** How far a start has come: a share in percent, 0 where that is not known, and in words. */
  startedShare: ComputedRef<number>
  starting: ComputedRef<string>
  pace: ComputedRef<string>
}

/** What a run is at, in words. */
export function useStateWords(run: PlaytestRun): StateWords {
  const state = computed(() => {
    const why = run.problems.value[0]
    return {
      starting: '',
      going: '',
      behind: `The run is behind: nothing new for ${run.silentS.value} s.`,
      lost: 'The connection is lost; the run is taken up again as soon as it is back.',
      'catching up': 'The run is catching up with what was done so far …',
      ended: `The run has ended. ${why ? `${why.message} ${why.fix}` : 'F2 begins it again.'}`,
    }[run.state.value]
  })
  const startedShare = computed(() => {
    const { done = 0, of = 0 } = run.starting.value ?? {}
    return of > 1 ? (100 * done) / of : 0
  })
  const starting = computed(() => {
    const { what = '', done = 0, of = 0 } = run.starting.value ?? {}
    return of > 1 ? `${what}: ${done.toLocaleString('en-GB')} of ${of.toLocaleString('en-GB')} objects` : what
  })
  const pace = computed(() =>
    run.paused.value ? 'paused' : run.pace.value === 1 ? '' : `${run.pace.value} × speed`,
  )
  return { state, startedShare, starting, pace }
}
