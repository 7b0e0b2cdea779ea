import { onUnmounted, ref, type Ref } from 'vue'
import type { Design } from './designs'

export interface Shown {
  key: string
  pose: [number, number, number]
}
export interface Showing {
  shown: Ref<Shown | null>
  show: (key: string, design: Design, from: string, to: string) => void
}

const AFTER_MS = 500

/** A motion shown on the plan: there in its own time, then back to where the object stands. */
export function useShowing(): Showing {
  const shown = ref<Shown | null>(null)
  let frame = 0

  function show(key: string, design: Design, from: string, to: string): void {
    cancelAnimationFrame(frame)
    const [a, b] = [from, to].map((k) => design.states.find((s) => s.key === k))
    if (!a || !b) return
    const still = window.matchMedia('(prefers-reduced-motion: reduce)').matches
    const length = still ? 0 : design.motion.seconds * 1000
    const begun = performance.now()
    const step = (now: number): void => {
      const share = length ? Math.min((now - begun) / length, 1) : 1
      const way = design.motion.easing === 'smooth' ? share * share * (3 - 2 * share) : share
      const part = (x: number, y: number): number => x + (y - x) * way
      shown.value = {
        key,
        pose: [part(a.swing_deg, b.swing_deg), part(a.slide_x_m, b.slide_x_m), part(a.slide_y_m, b.slide_y_m)],
      }
      if (now - begun < length + AFTER_MS) frame = requestAnimationFrame(step)
      else shown.value = null
    }
    frame = requestAnimationFrame(step)
  }
  onUnmounted(() => cancelAnimationFrame(frame))
  return { shown, show }
}
