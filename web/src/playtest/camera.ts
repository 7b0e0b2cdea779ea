import type { Box } from '@/plan/geometry'

export interface Camera {
  x: number
  y: number
}
type Spot = [number, number, number]

/** So near to where it is wanted it rests. */
const REST_M = 0.01

/** The place between two pictures; turns take the short way round. */
export function glided(before: Spot | undefined, now: Spot, share: number): Spot {
  if (!before || Math.hypot(now[0] - before[0], now[1] - before[1]) > 2) return now
  const turn = ((now[2] - before[2] + 540) % 360) - 180
  return [before[0] + (now[0] - before[0]) * share, before[1] + (now[1] - before[1]) * share, before[2] + turn * share]
}

/** How the camera is wanted. */
export interface Wanted {
  aheadM: number
  /** So many seconds it is behind what it follows. */
  behindS: number
  /** The area where the player is, and the level; it stays inside the one that is larger than the view. */
  area: Box | null
  level: Box | null
  view: { w: number; h: number }
}

/** The camera follows, looks a little ahead, stays inside the area, or inside the level where the area is smaller. */
export function cameraAt(camera: Camera | null, player: Spot, wanted: Wanted, passedMs: number): Camera {
  const turn = (player[2] * Math.PI) / 180
  const ahead = { x: player[0] + Math.cos(turn) * wanted.aheadM, y: player[1] + Math.sin(turn) * wanted.aheadM }
  const { area, level, view } = wanted
  const x = inside(ahead.x, [area?.left, area?.right], [level?.left, level?.right], view.w)
  const y = inside(ahead.y, [area?.bottom, area?.top], [level?.bottom, level?.top], view.h)
  return eased(camera, { x, y }, wanted.behindS, passedMs)
}
type Span = [low: number | undefined, high: number | undefined]
function inside(value: number, area: Span, level: Span, size: number): number {
  const [low, high] = area[0] !== undefined && area[1] !== undefined && area[1] - area[0] > size ? area : level
  return low === undefined || high === undefined ? value : within(value, low, high, size)
}

function eased(camera: Camera | null, wanted: Camera, behindS: number, passedMs: number): Camera {
  const left = camera ? Math.hypot(wanted.x - camera.x, wanted.y - camera.y) : Infinity
  if (!camera || left > 30) return wanted
  if (left < REST_M) return camera
  const share = behindS > 0 ? 1 - Math.exp(-passedMs / 1000 / behindS) : 1
  return { x: camera.x + (wanted.x - camera.x) * share, y: camera.y + (wanted.y - camera.y) * share }
}

function within(value: number, low: number, high: number, size: number): number {
  if (high - low <= size) return (low + high) / 2
  return Math.min(Math.max(value, low + size / 2), high - size / 2)
}
