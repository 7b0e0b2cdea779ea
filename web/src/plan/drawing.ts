import { computed, ref, type ComputedRef, type Ref } from 'vue'
import { snapped, type Point } from './geometry'

export interface Drawing {
  on: Ref<boolean>
  corners: Ref<Point[]>
  cursor: Ref<Point>
  typed: Ref<string>
  closes: ComputedRef<boolean>
  begin: (at: Point) => void
  end: () => void
  point: (at: Point, free: boolean) => void
  put: (at?: Point) => void
  key: (event: KeyboardEvent) => boolean
}
export interface Drawn {
  kind: 'wall' | 'area'
  points: [number, number][]
}

const NEAR_M = 0.3
const STEPS: Record<string, Point> = {
  ArrowLeft: { x: -1, y: 0 },
  ArrowRight: { x: 1, y: 0 },
  ArrowUp: { x: 0, y: 1 },
  ArrowDown: { x: 0, y: -1 },
}

/** Drawing corner by corner: an open run becomes a wall, one that comes back to its first corner an area. */
export function useDrawing(finished: (drawn: Drawn) => void): Drawing {
  const on = ref(false)
  const corners = ref<Point[]>([])
  const cursor = ref<Point>({ x: 0, y: 0 })
  const typed = ref('')
  const closes = computed(() => {
    const first = corners.value[0]
    return (
      corners.value.length > 2 &&
      first !== undefined &&
      Math.hypot(cursor.value.x - first.x, cursor.value.y - first.y) < NEAR_M
    )
  })

  function begin(at: Point): void {
    on.value = true
    corners.value = []
    typed.value = ''
    cursor.value = { x: snapped(at.x, false), y: snapped(at.y, false) }
  }
  function end(): void {
    on.value = false
    corners.value = []
    typed.value = ''
  }
  function point(at: Point, free: boolean): void {
    cursor.value = { x: snapped(at.x, free), y: snapped(at.y, free) }
  }
  function finish(kind: Drawn['kind']): void {
    const points = corners.value.map((p): [number, number] => [p.x, p.y])
    end()
    if (points.length >= (kind === 'area' ? 3 : 2)) finished({ kind, points })
  }
  function put(at = cursor.value): void {
    if (closes.value) return finish('area')
    const last = corners.value.at(-1)
    if (!last || last.x !== at.x || last.y !== at.y) corners.value = [...corners.value, { ...at }]
  }
  /** The corner so many metres from the last one, the way the cursor lies. */
  function putAt(metres: number): void {
    const last = corners.value.at(-1)
    if (!last || !(metres > 0)) return
    const turn =
      (Math.round((Math.atan2(cursor.value.y - last.y, cursor.value.x - last.x) * 180) / Math.PI / 15) * 15 * Math.PI) /
      180
    const next = {
      x: Math.round((last.x + Math.cos(turn) * metres) * 1000) / 1000,
      y: Math.round((last.y + Math.sin(turn) * metres) * 1000) / 1000,
    }
    corners.value = [...corners.value, next]
    cursor.value = next
  }
  /** A key while drawing; whether it was one of ours. */
  function key(event: KeyboardEvent): boolean {
    const step = STEPS[event.key]
    const by = event.shiftKey ? 1 : 0.25
    if (step) cursor.value = { x: cursor.value.x + step.x * by, y: cursor.value.y + step.y * by }
    else if (/^[0-9.]$/.test(event.key)) typed.value += event.key
    else if (event.key === ' ') put()
    else if (event.key === 'Backspace') {
      if (typed.value) typed.value = typed.value.slice(0, -1)
      else corners.value = corners.value.slice(0, -1)
    } else if (event.key === 'Enter') {
      if (typed.value) putAt(Number(typed.value))
      else finish(closes.value ? 'area' : 'wall')
      typed.value = ''
    } else if (event.key.toLowerCase() === 'a') finish('area')
    else if (event.key === 'Escape') end()
    else return false
    return true
  }
  return { on, corners, cursor, typed, closes, begin, end, point, put, key }
}
