import { ref, type Ref } from 'vue'
import { answered, api, type Schemas } from '@/api/client'
import type { Point } from './geometry'

export interface Measure {
  points: Point[]
  way: Point[]
  says: string
}
export interface Measuring {
  measure: Ref<Measure | null>
  begin: () => void
  end: () => void
  point: (at: Point, project: number, level: string) => Promise<void>
}

const ASKS = 'click two places to measure between them, straight and on foot · Esc ends'

/** Measuring between two places; the way on foot is the engine's own. */
export function useMeasuring(): Measuring {
  const measure = ref<Measure | null>(null)
  const begin = (): void => void (measure.value = { points: [], way: [], says: ASKS })
  const end = (): void => void (measure.value = null)

  async function point(at: Point, project: number, level: string): Promise<void> {
    const now = measure.value
    if (!now) return
    const points = now.points.length === 1 ? [...now.points, at] : [at]
    measure.value = { points, way: [], says: ASKS }
    const [a, b] = points
    if (!a || !b) return
    const query = { x1: a.x, y1: a.y, x2: b.x, y2: b.y }
    const found = answered<Schemas['MeasureShape']>(
      await api.GET('/api/projects/{project}/levels/{level}/measure', { params: { path: { project, level }, query } }),
    )
    const foot =
      found.on_foot_m === null
        ? 'no way on foot'
        : `${found.on_foot_m.toFixed(2)} m on foot, ${found.seconds?.toFixed(1)} s`
    measure.value = {
      points,
      way: found.way.map(([x, y]) => ({ x: Number(x), y: Number(y) })),
      says: `${found.straight_m.toFixed(2)} m straight · ${foot}`,
    }
  }
  return { measure, begin, end, point }
}
