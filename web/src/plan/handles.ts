import type { RowOf } from '@/api/client'
import type { Placed, State } from './designs'
import { reachMiddle, turned, type Point } from './geometry'
import { rounded } from './track'

/** A handle with what it says; `key` tells it apart. */
export interface Said {
  key: string
  at: Point
  says: string
}
export interface Handles {
  size: Said | null
  depth: Point | null
  arm: Said | null
  hinge: Point | null
  ends: (Said & { state: State; swing: boolean })[]
  stops: { i: number; at: Point }[]
}

/** The corners of an area or a wall. */
export function cornersOf(row: RowOf<'area'> | RowOf<'wall'>): Point[] {
  return (row.type === 'area' ? row.values.outline : row.values.points).map(([x, y]) => ({
    x: Number(x),
    y: Number(y),
  }))
}
/** The middle of each side, where another corner can be put in, with how long the side is. */
export function sidesOf(row: RowOf<'area'> | RowOf<'wall'>): (Said & { i: number })[] {
  const points = cornersOf(row)
  return points.slice(0, row.type === 'area' ? undefined : -1).map((p, i) => {
    const q = points[(i + 1) % points.length] as Point
    return {
      i,
      key: `side-${i}`,
      at: { x: (p.x + q.x) / 2, y: (p.y + q.y) / 2 },
      says: `${rounded(Math.hypot(p.x - q.x, p.y - q.y))} m`,
    }
  })
}

/** The end of an exit: where it leads in its own level, else a little beside it. */
export function exitEndOf(exit: RowOf<'exit'>, level: string): Said {
  const { to_level: to, to_x_m, to_y_m, x_m, y_m } = exit.values
  const here = to === level
  return {
    key: 'exit-end',
    at: here ? { x: to_x_m, y: to_y_m } : { x: x_m + 1.4, y: y_m - 1 },
    says: here ? 'leads here' : 'drag to where it leads',
  }
}

/** From an object's own axes to the level. */
export function outOf(one: Placed, p: Point): Point {
  const { x_m: x, y_m: y, turn_deg: turn } = one.row.values
  const t = turned(p, turn)
  return { x: x + t.x, y: y + t.y }
}

/**
 * Where the handles of an object stand in the level: its reach's, its hinge, the ends of its motions, its way-points.
 */
export function handlesOf(one: Placed): Handles {
  const { reach, motion, states } = one.design
  const swings = states.some((s) => s.swing_deg)
  return {
    size: sizeOf(one),
    depth: reach.shape === 'box' ? beside(one, { x: 0, y: reach.depth_m / 2 }, 0) : null,
    arm:
      reach.shape === 'wedge'
        ? { key: 'arm', at: beside(one, { x: reach.radius_m, y: 0 }, reach.arc_deg / 2), says: `${reach.arc_deg}°` }
        : null,
    hinge: swings ? outOf(one, { x: motion.hinge_x_m, y: motion.hinge_y_m }) : null,
    ends: states.flatMap((state) => endOf(one, state)),
    stops: one.row.values.round.map((p, i) => ({ i, at: { x: Number(p[0]), y: Number(p[1]) } })),
  }
}

function beside(one: Placed, by: Point, more: number): Point {
  const middle = reachMiddle(one)
  const off = turned(by, one.row.values.turn_deg + more)
  return { x: middle.x + off.x, y: middle.y + off.y }
}
/** A circle's handle stays east of it however it is turned, but north where the turn handle would be near. */
function sizeOf(one: Placed): Said | null {
  const { reach } = one.design
  const turn = one.row.values.turn_deg
  if (reach.shape === 'none') return null
  const middle = reachMiddle(one)
  const north = Math.abs(((turn + 360) % 360) - 90) < 40
  if (reach.shape === 'box')
    return {
      key: 'size',
      at: beside(one, { x: reach.width_m / 2, y: 0 }, 0),
      says: `${reach.width_m} × ${reach.depth_m} m`,
    }
  const says = `${reach.radius_m} m`
  if (reach.shape === 'wedge') return { key: 'size', at: beside(one, { x: reach.radius_m, y: 0 }, 0), says }
  const off = north ? { x: 0, y: reach.radius_m } : { x: reach.radius_m, y: 0 }
  return { key: 'size', at: { x: middle.x + off.x, y: middle.y + off.y }, says }
}
/** Where the far end, or the middle, of the body stands in a moved state. */
function endOf(one: Placed, state: State): Handles['ends'] {
  const { motion, body } = one.design
  const h = { x: motion.hinge_x_m, y: motion.hinge_y_m }
  const key = `end-${state.key}`
  if (state.swing_deg) {
    const arm = turned({ x: -2 * h.x || body.width_m / 2, y: -2 * h.y }, state.swing_deg)
    return [
      {
        key,
        state,
        swing: true,
        at: outOf(one, { x: h.x + arm.x, y: h.y + arm.y }),
        says: `${state.name} ${state.swing_deg}°`,
      },
    ]
  }
  const slides = state.slide_x_m || state.slide_y_m
  return slides
    ? [
        {
          key,
          state,
          swing: false,
          at: outOf(one, { x: state.slide_x_m, y: state.slide_y_m }),
          says: `${state.name} ${state.slide_x_m} m`,
        },
      ]
    : []
}
