import { computed, shallowRef, watch, type ComputedRef } from 'vue'
import type { LiveThing, PlaytestRun } from './connection'

export interface LookingBack {
  /** The tick that is looked at; null for now. */
  at: ComputedRef<number | null>
  /** The run as it is shown: as it was while an earlier moment is looked at. */
  shown: PlaytestRun
  look: (tick: number) => void
  back: () => void
}

/** Looks at earlier moments of a run: it stands still meanwhile, and goes on after. */
export function useLookingBack(run: PlaytestRun): LookingBack {
  const at = computed(() => run.then.value?.tick ?? null)
  const picture = shallowRef(run.picture.value)
  const nothing = shallowRef(null)
  const objects = shallowRef<Record<string, LiveThing>>({})
  const hud = shallowRef(run.hud.value)
  let stopped = false
  watch(
    [run.picture, run.objects, run.hud, run.then],
    () => {
      const then = run.then.value?.picture
      picture.value = then ?? run.picture.value
      objects.value = then ? (then.objects ?? {}) : run.objects.value
      hud.value = then ? (then.hud ?? null) : run.hud.value
    },
    { immediate: true },
  )
  const level = computed(() => run.then.value?.picture.level ?? run.level.value)
  const before = computed(() => (run.then.value ? nothing.value : run.before.value))
  function look(tick: number): void {
    if (!run.paused.value && !stopped) {
      stopped = true
      run.send({ do: 'pause' })
    }
    run.send({ then: tick })
  }
  function back(): void {
    run.then.value = null
    if (stopped) run.send({ do: 'go' })
    stopped = false
  }
  // A run that begins anew is looked at as it is.
  watch(
    () => run.chronicle.value.length === 0,
    (empty) => empty && (stopped = false),
  )
  return { at, shown: { ...run, picture, objects, hud, level, before } as unknown as PlaytestRun, look, back }
}
