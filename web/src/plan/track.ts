import type { Point } from './geometry'

export type WorldAt = (event: { clientX: number; clientY: number }) => Point

/** Follows a drag from its pointerdown to its end; `up` is called once. */
export function track(event: PointerEvent, move: (e: PointerEvent) => void, up: (e: PointerEvent) => void): void {
  event.preventDefault()
  event.stopPropagation()
  const done = (e: PointerEvent): void => {
    window.removeEventListener('pointermove', move)
    window.removeEventListener('pointerup', done)
    up(e)
  }
  window.addEventListener('pointermove', move)
  window.addEventListener('pointerup', done)
}

export function rounded(value: number, to = 100): number {
  return Math.round(value * to) / to
}
