import { follow } from '@/parts/dragging'
import type { Point } from './geometry'

export type WorldAt = (event: { clientX: number; clientY: number }) => Point

/** Follows a drag on the plan to its end; one that is taken away ends where it began. */
export function track(event: PointerEvent, move: (e: PointerEvent) => void, up: (e: PointerEvent) => void): void {
  event.preventDefault()
  event.stopPropagation()
  follow({
    move,
    end: up,
    cancel: () => {
      move(event)
      up(event)
    },
  })
}

export function rounded(value: number, to = 100): number {
  return Math.round(value * to) / to
}
