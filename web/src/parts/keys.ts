import { useEventListener } from '@vueuse/core'

/** Whether what has the focus takes letters itself: a word that is being typed. */
export function isTyping(target: EventTarget | null): boolean {
  return target instanceof HTMLElement && target.closest('input, textarea, select, [contenteditable]') !== null
}

export interface KeyHandlers {
  down: (event: KeyboardEvent) => void
  up?: (event: KeyboardEvent) => void
  blur?: () => void
}

/**
 * The keys of a place. They work wherever the focus is, but for a word that is being typed; a part that has taken a
 * key for
 * itself says so by `preventDefault`. One rule for every place.
 */
export function useKeys({ down, up, blur }: KeyHandlers): void {
  useEventListener(window, 'keydown', (event: KeyboardEvent) => {
    if (!event.defaultPrevented && !isTyping(event.target)) down(event)
  })
  if (up) useEventListener(window, 'keyup', up)
  if (blur) useEventListener(window, 'blur', blur)
}
