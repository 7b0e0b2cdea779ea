import { follow } from '@/parts/dragging'
import { useBook } from '@/stores/book'
import type { Point } from './geometry'

export type WorldAt = (event: { clientX: number; clientY: number }) => Point

/**
 * Follows a drag on the plan to its end. One that is given up or taken away changes nothing: what was only shown is as
 * it was, and `over` puts back what the plan itself remembers of it.
 */
export function track(
  event: PointerEvent,
  move: (e: PointerEvent) => void,
  up: (e: PointerEvent) => void,
  over: () => void = () => undefined,
): void {
  event.preventDefault()
  event.stopPropagation()
  const book = useBook()
  follow({
    move,
    end: up,
    cancel: () => {
      book.restore()
      over()
    },
  })
}

export function rounded(value: number, to = 100): number {
  return Math.round(value * to) / to
}
