import type { RowOf } from '@/api/client'
import { valueAt, type Placed } from '@/plan/designs'
import type { TriedValue } from '@/stores/tried'

/** A value that can be tried while walking. */
export interface Tunable extends Omit<TriedValue, 'was'> {
  step: number
  lowest: number
  highest: number
}
type Row = [path: string, label: string, unit: string, step: number, lowest: number, highest: number]

const [METRES, SECONDS, DEGREES] = [' m', ' s', '°']

/** What can be tried of an object: its reach, holds, motion and pace, as far as it has them. */
export function tunablesOf(one: Placed): Tunable[] {
  const { reach, prompts, states, walks } = one.design
  const rows: Row[] = []
  if (reach.shape === 'circle' || reach.shape === 'wedge') rows.push(['reach.radius_m', 'reach', METRES, 0.1, 0.1, 50])
  if (reach.shape === 'wedge') rows.push(['reach.arc_deg', 'reach arc', DEGREES, 5, 5, 360])
  if (reach.shape === 'box') {
    rows.push(['reach.width_m', 'reach width', METRES, 0.1, 0.1, 50])
    rows.push(['reach.depth_m', 'reach depth', METRES, 0.1, 0.1, 50])
  }
  if (reach.facing_deg != null) rows.push(['reach.facing_deg', 'facing within', DEGREES, 5, 5, 180])
  if (reach.sight_m != null) rows.push(['reach.sight_m', 'clear sight', METRES, 0.5, 0.5, 100])
  for (const { key, control } of prompts.filter((p) => p.hold_s > 0))
    rows.push([`prompts.${key}.hold_s`, prompts.length > 1 ? `hold ${control}` : 'hold', SECONDS, 0.1, 0.1, 60])
  for (const state of states.filter((s) => s.swing_deg))
    rows.push([`states.${state.key}.swing_deg`, `swing ${state.name}`, DEGREES, 5, -360, 360])
  if (states.some((s) => s.swing_deg || s.slide_x_m || s.slide_y_m))
    rows.push(['motion.seconds', 'motion lasts', SECONDS, 0.1, 0, 60])
  if (walks) rows.push(['speed_mps', 'walks', ' m/s', 0.1, 0.1, 50])
  return rows.flatMap((row) => {
    const value = valueAt(one.design, row[0])
    return typeof value === 'number' ? [tunable(one.row.key, row, value)] : []
  })
}
function tunable(of: string, [path, label, unit, step, lowest, highest]: Row, value: number | boolean): Tunable {
  return { of, path, label, unit, step, lowest, highest, value }
}
/** What can be tried of the project: how fast the player walks, and the camera. */
export function tunablesOfProject(settings: RowOf<'project'>): { player: Tunable[]; camera: Tunable[] } {
  const { player, camera } = settings.values
  return {
    player: [tunable('project', ['player.speed_mps', 'walks', ' m/s', 0.1, 0.1, 50], player.speed_mps)],
    camera: [
      tunable('camera', ['view_m', 'shows', METRES, 1, 4, 200], camera.view_m),
      tunable('camera', ['look_ahead_m', 'looks ahead', METRES, 0.1, 0, 20], camera.look_ahead_m),
      tunable('camera', ['behind_s', 'is behind by', SECONDS, 0.05, 0, 5], camera.behind_s ?? 0.18),
      tunable('camera', ['inside_area', 'stays inside the area', '', 1, 0, 1], camera.inside_area),
    ],
  }
}
/** The voice of a line that is being said. */
export function tunableOfLine(key: string, seconds: number): Tunable {
  return tunable(key, ['seconds', 'voice lasts', SECONDS, 0.1, 0.1, 600], seconds)
}
