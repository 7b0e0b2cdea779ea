import type { Box } from '@/plan/geometry'

export interface Camera {
  x: number
  y: number
}
type Spot = [number, number, number]

const EASE = 0.09

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
): Camera {
  const ahead = { x: Math.cos((player[2] * Math.PI) / 180) * aheadM, y: Math.sin((player[2] * Math.PI) / 180) * aheadM }
  if (!bounds) return eased(camera, { x: player[0] + ahead.x, y: player[1] + ahead.y })
  const wanted = {
    x: within(player[0] + ahead.x, bounds.left, bounds.right, view.w),
    y: within(player[1] + ahead.y, bounds.bottom, bounds.top, view.h),
  }
  return eased(camera, wanted)
}

function eased(camera: Camera | null, wanted: Camera): Camera {
  if (!camera || Math.hypot(wanted.x - camera.x, wanted.y - camera.y) > 30) return wanted
  return { x: camera.x + (wanted.x - camera.x) * EASE, y: camera.y + (wanted.y - camera.y) * EASE }
}

function within(value: number, low: number, high: number, size: number): number {
  if (high - low <= size) return (low + high) / 2
  return Math.min(Math.max(value, low + size / 2), high - size / 2)
}
