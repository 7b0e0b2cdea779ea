import { shortened } from '@/parts/shortened'
import type { Design, Placed, Reach, State } from './designs'

export interface Point {
  x: number
  y: number
}
export interface Box {
  left: number
  right: number
  top: number
  bottom: number
}

const RAD = Math.PI / 180

export function turned(p: Point, deg: number): Point {
  const c = Math.cos(deg * RAD)
  const s = Math.sin(deg * RAD)
  return { x: p.x * c - p.y * s, y: p.x * s + p.y * c }
}

export function snapped(value: number, free: boolean): number {
  return free ? Math.round(value * 100) / 100 : Math.round(value * 4) / 4
}

/** The middle of a reach in the level. */
export function reachMiddle(one: Placed): Point {
  const off = turned({ x: one.design.reach.offset_x_m, y: one.design.reach.offset_y_m }, one.row.values.turn_deg)
  return { x: one.row.values.x_m + off.x, y: one.row.values.y_m + off.y }
}

/** A reach as a path about its middle, unturned, in metres with y up. */
export function reachPath(reach: Reach): string {
  if (reach.shape === 'none') return ''
  const r = reach.radius_m
  if (reach.shape === 'circle') return `M${r} 0A${r} ${r} 0 1 1 ${-r} 0A${r} ${r} 0 1 1 ${r} 0Z`
  if (reach.shape === 'box') {
    const [w, d] = [reach.width_m / 2, reach.depth_m / 2]
    return `M${-w} ${-d}H${w}V${d}H${-w}Z`
  }
  const half = reach.arc_deg / 2
  const a = turned({ x: r, y: 0 }, -half)
  const b = turned({ x: r, y: 0 }, half)
  return `M0 0L${a.x} ${a.y}A${r} ${r} 0 ${reach.arc_deg > 180 ? 1 : 0} 1 ${b.x} ${b.y}Z`
}

/** Where a body stands in a state, as an SVG transform from its own axes to the level's. */
export function poseTransform(one: Placed, swing: number, slideX: number, slideY: number): string {
  const { hinge_x_m: hx, hinge_y_m: hy } = one.design.motion
  const { x_m, y_m, turn_deg } = one.row.values
  const placed = `translate(${x_m} ${y_m}) rotate(${turn_deg})`
  return `${placed} translate(${slideX} ${slideY}) rotate(${swing} ${hx} ${hy})`
}

export function bodyPath(design: Design): string {
  const { shape, width_m: w, depth_m: d } = design.body
  if (shape === 'none') return ''
  if (shape === 'circle') return `M${w / 2} 0A${w / 2} ${w / 2} 0 1 1 ${-w / 2} 0A${w / 2} ${w / 2} 0 1 1 ${w / 2} 0Z`
  return `M${-w / 2} ${-d / 2}H${w / 2}V${d / 2}H${-w / 2}Z`
}

/** The arc that the far end of a swinging body draws between two states, in the body's own axes. */
export function swingArc(design: Design, from: State, to: State): string {
  const { hinge_x_m: hx, hinge_y_m: hy } = design.motion
  if (from.swing_deg === to.swing_deg || (hx === 0 && hy === 0)) return ''
  const length = design.body.width_m / 2 + Math.abs(hx)
  const sign = hx <= 0 ? 1 : -1
  const end = (deg: number): Point => {
    const p = turned({ x: length * sign, y: 0 }, deg)
    return { x: hx + p.x, y: hy + p.y }
  }
  const a = end(from.swing_deg)
  const b = end(to.swing_deg)
  const sweep = to.swing_deg > from.swing_deg ? 1 : 0
  const large = Math.abs(to.swing_deg - from.swing_deg) > 180 ? 1 : 0
  return `M${a.x} ${a.y}A${length} ${length} 0 ${large} ${sweep} ${b.x} ${b.y}L${hx} ${hy}`
}

/** The collar of a badge: an arc for each state, the present one strong. */
export function collarArcs(count: number, radius: number): string[] {
  if (count < 2) return []
  const gap = 0.22
  const span = (2 * Math.PI) / count
  return Array.from({ length: count }, (_, i) => {
    const from = -Math.PI / 2 + i * span + gap / 2
    const to = from + span - gap
    const p = (a: number): string => `${(Math.cos(a) * radius).toFixed(2)} ${(Math.sin(a) * radius).toFixed(2)}`
    return `M${p(from)}A${radius} ${radius} 0 ${span - gap > Math.PI ? 1 : 0} 1 ${p(to)}`
  })
}

export function outlinePath(points: readonly (readonly number[])[], closed: boolean): string {
  return points.map((p, i) => `${i ? 'L' : 'M'}${p[0]} ${p[1]}`).join('') + (closed ? 'Z' : '')
}

export function boundsOf(points: Point[], margin: number): Box {
  const xs = points.map((p) => p.x)
  const ys = points.map((p) => p.y)
  if (!points.length) return { left: -5, right: 5, bottom: -5, top: 5 }
  return {
    left: Math.min(...xs) - margin,
    right: Math.max(...xs) + margin,
    bottom: Math.min(...ys) - margin,
    top: Math.max(...ys) + margin,
  }
}

const SHORTEST_NAME = 6

/** A name cut to the room it has, pixels, as `wide` measures it; empty where hardly anything of it would be left. */
export function nameWithin(name: string, room: number, wide: (text: string) => number): string {
  if (wide(name) <= room) return name
  for (let most = name.length - 1; most >= SHORTEST_NAME; most--)
    if (wide(shortened(name, most)) <= room) return shortened(name, most)
  return ''
}

const LONGEST_LABEL = 28

/** A name as a plan shows it: long ones are cut, the page has them whole. */
export function labelText(name: string): string {
  return shortened(name, LONGEST_LABEL)
}
