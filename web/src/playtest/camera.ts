import type { Box } from '@/plan/geometry'

export interface Camera {
  x: number
  y: number
}
type Spot = [number, number, number]

/** Such a share of the way to go the camera makes in a sixtieth of a second, however many pictures are drawn in one. */
const EASE = 0.09
const FRAME_MS = 1000 / 60
/** So near to where it is wanted it rests. */
const REST_M = 0.01

/** The place between two pictures; turns take the short way round. */
export function glided(before: Spot | undefined, now: Spot, share: number): Spot {
  if (!before || Math.hypot(now[0] - before[0], now[1] - before[1]) > 2) return now
  const turn = ((now[2] - before[2] + 540) % 360) - 180
  return [before[0] + (now[0] - before[0]) * share, before[1] + (now[1] - before[1]) * share, before[2] + turn * share]
}

/** The camera follows, looks a little ahead, and stays inside the level where the level is larger than the view. */
export function cameraAt(
  camera: Camera | null,
  player: Spot,
  bounds: Box | null,
  view: { w: number; h: number },
  aheadM: number,
  passedMs: number,
): Camera {
  const ahead = { x: Math.cos((player[2] * Math.PI) / 180) * aheadM, y: Math.sin((player[2] * Math.PI) / 180) * aheadM }
  if (!bounds) return eased(camera, { x: player[0] + ahead.x, y: player[1] + ahead.y }, passedMs)
  const wanted = {
    x: within(player[0] + ahead.x, bounds.left, bounds.right, view.w),
    y: within(player[1] + ahead.y, bounds.bottom, bounds.top, view.h),
  }
  return eased(camera, wanted, passedMs)
}

function eased(camera: Camera | null, wanted: Camera, passedMs: number): Camera {
  const left = camera ? Math.hypot(wanted.x - camera.x, wanted.y - camera.y) : Infinity
  if (!camera || left > 30) return wanted
  if (left < REST_M) return camera
  const share = 1 - (1 - EASE) ** (passedMs / FRAME_MS)
  return { x: camera.x + (wanted.x - camera.x) * share, y: camera.y + (wanted.y - camera.y) * share }
}

function within(value: number, low: number, high: number, size: number): number {
  if (high - low <= size) return (low + high) / 2
  return Math.min(Math.max(value, low + size / 2), high - size / 2)
}
