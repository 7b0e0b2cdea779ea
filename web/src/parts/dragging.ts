export interface Following {
  move: (event: PointerEvent) => void
  /** The pointer was let go. */
  end?: (event: PointerEvent) => void
  /**
   * The drag was taken away: the system wanted the pointer, or Escape was pressed. Without one, nothing more happens.
   */
  cancel?: () => void
}

/**
 * Follows a drag from its pointerdown until it is let go, taken away, or given up with Escape; exactly one of them is
 * told.
 */
export function follow({ move, end, cancel }: Following): void {
  const listening = new AbortController()
  const { signal } = listening
  const finish = (tell?: () => void): void => {
    listening.abort()
    tell?.()
  }
  const onKey = (event: KeyboardEvent): void => {
    if (event.key !== 'Escape') return
    event.preventDefault()
    event.stopPropagation()
    finish(cancel)
  }
  window.addEventListener('pointermove', move, { signal })
  window.addEventListener('pointerup', (event) => finish(() => end?.(event)), { signal })
  window.addEventListener('pointercancel', () => finish(cancel), { signal })
  window.addEventListener('keydown', onKey, { signal, capture: true })
}

/** Keeps the click that follows a drag from meaning anything; a click that does not follow at once is left alone. */
export function swallowClick(): void {
  const swallow = (event: Event): void => {
    event.stopPropagation()
    event.preventDefault()
  }
  window.addEventListener('click', swallow, { capture: true, once: true })
  window.setTimeout(() => window.removeEventListener('click', swallow, true))
}
