import { computed, onMounted, onUnmounted, type ComputedRef } from 'vue'
import type { Schemas } from '@/api/client'
import { useQuietly } from '@/page/quietly'
import { isNeed, landingAt, numbered, topOf, usePieces, type Pieces, type TextPlace } from './pieces'
import { follow, swallowClick } from './dragging'

/** Tokens of one text that follow one another and belong to one piece, or to none. */
export interface Run {
  piece: string
  tokens: Schemas['TokenShape'][]
}
interface Options {
  root: () => HTMLElement | null
  place: () => TextPlace
  text: () => string
  runs: () => Run[]
  fresh: () => Promise<boolean>
  save: (text: string, name: string) => Promise<void>
  refused: (error: unknown) => void
}
export interface MovingPieces {
  pieces: Pieces
  landed: ComputedRef<Record<number, string>>
  take: (event: PointerEvent, piece: string) => void
  shift: (piece: string, by: 1 | -1) => Promise<void>
  remove: (piece: string) => Promise<void>
  copy: (piece: string) => Promise<void>
  cut: (piece: string) => Promise<void>
  paste: (text: string, piece: string) => Promise<void>
  onPieceKey: (event: KeyboardEvent) => boolean
}

const LEAST_DRAG_PX = 6
const SHIFTS: Record<string, 1 | -1> = { ArrowUp: -1, ArrowDown: 1 }

/** Needs and steps of one text: dragged, put earlier or later, copied, cut, pasted and taken out. */
export function useMovingPieces(of: Options): MovingPieces {
  const pieces = usePieces()
  const { quietly } = useQuietly()

  /** The run at a side of which the mark is drawn, with the class that draws it. */
  const landed = computed<Record<number, string>>(() => {
    const [to, here] = [pieces.landing.value, of.place()]
    if (!to || to.record !== here.record || to.field !== here.field) return {}
    const inside = of
      .runs()
      .map((r, i) => (r.piece && topOf(r.piece) === to.mark ? i : -1))
      .filter((i) => i >= 0)
    const at = to.after ? inside.at(-1) : inside[0]
    return at === undefined ? {} : { [at]: to.after ? 'drop-after' : 'drop-before' }
  })
  function wordsOf(piece: string): string {
    return of
      .runs()
      .filter((r) => r.piece === piece || r.piece.startsWith(`${piece}.`))
      .flatMap((r) => r.tokens.map((t) => t.text))
      .join('')
  }
  function take(event: PointerEvent, piece: string): void {
    if (!piece || event.button || !(event.target as Element).closest('.word:not(.number)')) return
    const [x, y] = [event.clientX, event.clientY]
    const move = (e: PointerEvent): void => {
      if (!pieces.held.value && Math.hypot(e.clientX - x, e.clientY - y) < LEAST_DRAG_PX) return
      e.preventDefault()
      pieces.held.value = { ...of.place(), piece, words: wordsOf(piece), x: e.clientX, y: e.clientY }
      pieces.landing.value = landingAt(e.clientX, e.clientY, piece)
    }
    const end = (e: PointerEvent): void => {
      if (!pieces.held.value) return
      swallowClick()
      void quietly(pieces.drop(e.ctrlKey))
    }
    follow({ move, end, cancel: () => (pieces.held.value = pieces.landing.value = null) })
  }

  async function rearrange(name: string, how: { take?: string; to?: string }): Promise<void> {
    if (!(await of.fresh())) return
    try {
      const done = await pieces.rearranged(of.text(), of.place().start, how)
      if (done.text !== of.text()) await of.save(done.text, name)
    } catch (error) {
      of.refused(error)
    }
  }
  function what(piece: string): string {
    return isNeed(piece) ? 'need' : 'step'
  }
  function remove(piece: string): Promise<void> {
    return rearrange(`Took a ${what(piece)} out`, { take: piece })
  }
  async function shift(piece: string, by: 1 | -1): Promise<void> {
    const { part, number } = numbered(piece)
    if (!of.runs().some((r) => r.piece && topOf(r.piece) === `${part}.${number + by}`)) return
    await rearrange(`Moved a ${what(topOf(piece))}`, {
      take: topOf(piece),
      to: `${part}.${by > 0 ? number + 2 : number - 1}`,
    })
    if (await of.fresh())
      of.root()
        ?.querySelector<HTMLElement>(`[data-piece="${part}.${number + by}"] .word`)
        ?.focus()
  }
  async function copy(piece: string): Promise<void> {
    await pieces.keep((await pieces.rearranged(of.text(), of.place().start, { take: piece })).taken)
  }
  async function cut(piece: string): Promise<void> {
    await copy(piece)
    await remove(piece)
  }
  async function paste(text: string, piece: string): Promise<void> {
    if (!text.trim() || !(await of.fresh())) return
    const { part, number } = numbered(piece)
    const { start } = of.place()
    const to = part ? `${part}.${number + 1}` : start === 'needs' ? 'needs' : 'steps'
    try {
      await of.save(await pieces.pasted(of.text(), start, text, to), 'Pasted into a text')
    } catch (error) {
      of.refused(error)
    }
  }
  /** The word of this text that has the focus while it is not being changed. */
  function focusedWord(): HTMLElement | null {
    const word = document.activeElement?.closest<HTMLElement>('.word') ?? null
    return word && of.root()?.contains(word) ? word : null
  }
  function pieceOf(word: HTMLElement): string {
    return word.closest<HTMLElement>('[data-piece]')?.dataset.piece ?? ''
  }
  function onPieceKey(event: KeyboardEvent): boolean {
    const word = focusedWord()
    const piece = word ? pieceOf(word) : ''
    const by = SHIFTS[event.key]
    const key = event.key.toLowerCase()
    if (!piece) return false
    if (by && event.altKey && !event.shiftKey) void shift(piece, by)
    else if (event.key === 'Delete' && !event.ctrlKey) void remove(piece)
    else if (event.ctrlKey && key === 'c') void copy(piece)
    else if (event.ctrlKey && key === 'x') void cut(piece)
    else return false
    event.preventDefault()
    event.stopPropagation()
    return true
  }
  function onPaste(event: ClipboardEvent): void {
    const word = focusedWord()
    if (!word) return
    event.preventDefault()
    void paste(pieces.fromClipboard(event), pieceOf(word))
  }
  onMounted(() => document.addEventListener('paste', onPaste))
  onUnmounted(() => document.removeEventListener('paste', onPaste))

  return { pieces, landed, take, shift, remove, copy, cut, paste, onPieceKey }
}
