import { createGlobalState, useSessionStorage } from '@vueuse/core'
import { shallowRef, type Ref, type ShallowRef } from 'vue'
import { answered, api, RefusedError, type ChangeAsked, type Schemas } from '@/api/client'
import { useBook } from '@/stores/book'

export type Start = 'cue' | 'needs' | 'steps'

/** A text of a record, as a place that needs and steps can be moved out of and into. */
export interface TextPlace {
  record: number
  field: string
  start: Start
  /**
   * Where it is a cue of a kind, seen on the page of an object: what is changed in it is changed for that object
   * alone.
   */
  instead?: { owner: number; key: string }
}
/** The change that puts values into the record of a text, or into a cue that one object has instead of its kind's. */
export function textChange(
  place: TextPlace,
  values: Record<string, unknown>,
  now: Record<string, unknown>,
): Partial<ChangeAsked> {
  const { owner, key } = place.instead ?? {}
  if (!owner || !key) return { do: 'set', id: place.record, values: values as never }
  const whole = { text: String(now.text ?? ''), draft: String(now.draft ?? ''), ...values }
  return { do: 'add', type: 'cue', owner, key, values: whole as never }
}
/** The place of a text by what stands on the page. */
function placeOf(root: HTMLElement): TextPlace {
  const { record, field = '', start = 'cue', owner, key = '' } = root.dataset
  const instead = owner ? { owner: Number(owner), key } : undefined
  return { record: Number(record), field, start: start as Start, ...(instead ? { instead } : {}) }
}
/** A need or step that is being dragged, by its place in its text. */
export interface Held extends TextPlace {
  piece: string
  words: string
  x: number
  y: number
}
/** Where it would come to stand: before `to`; the mark is drawn at a side of the piece `mark`. */
export interface Landing extends TextPlace {
  to: string
  mark: string
  after: boolean
}
export interface Pieces {
  held: ShallowRef<Held | null>
  landing: ShallowRef<Landing | null>
  copied: Ref<string>
  keep: (text: string) => Promise<void>
  fromClipboard: (event: ClipboardEvent) => string
  textOf: (place: TextPlace) => string
  rearranged: (
    text: string,
    start: Start,
    how: { take?: string; put?: string; to?: string },
  ) => Promise<Schemas['RearrangedShape']>
  pasted: (text: string, start: Start, put: string, to: string) => Promise<string>
  drop: (copy: boolean) => Promise<void>
}

/** The part and the number of a piece: `steps.2` is the third of the steps. */
export function numbered(piece: string): { part: string; number: number } {
  const [part = '', number = ''] = piece.split('.')
  return { part, number: Number(number) }
}
export function isNeed(piece: string): boolean {
  return piece.startsWith('needs') && !piece.endsWith('.else')
}
/** A piece by itself, or the top-level one that it is inside of. */
export function topOf(piece: string): string {
  return piece.split('.').slice(0, 2).join('.')
}

/** Where a piece would land under a point of the screen; null where it cannot stand. */
export function landingAt(x: number, y: number, piece: string): Landing | null {
  const under = document.elementFromPoint(x, y)
  const root = under?.closest<HTMLElement>('.text-prose')
  if (!under || !root) return null
  const place = placeOf(root)
  if (place.start !== 'cue' && (place.start === 'needs') !== isNeed(piece)) return null
  const run = under.closest<HTMLElement>('[data-piece]')
  const at = run?.dataset.piece ?? ''
  if (!run || isNeed(at) !== isNeed(piece)) return atTheEnd(root, place, isNeed(piece) ? 'needs' : 'steps')
  const { part, number } = numbered(at)
  const boxes = [...run.getClientRects()]
  const [first, last] = [boxes[0], boxes[boxes.length - 1]]
  const after =
    !!first && !!last && Math.hypot(x - last.right, y - last.bottom) < Math.hypot(x - first.left, y - first.top)
  return { ...place, to: `${part}.${number + (after ? 1 : 0)}`, mark: topOf(at), after }
}
function atTheEnd(root: HTMLElement, place: TextPlace, part: string): Landing {
  const runs = [...root.querySelectorAll<HTMLElement>(`[data-piece^="${part}."]`)]
  return { ...place, to: part, mark: topOf(runs.at(-1)?.dataset.piece ?? ''), after: true }
}

/** Whether a text could be put into the clipboard; a page that is not served safely may not. */
export async function toClipboard(text: string): Promise<boolean> {
  try {
    await navigator.clipboard.writeText(text)
    return true
  } catch {
    return false
  }
}

/** Needs and steps on their way from one text to another; the texts themselves are changed by the server. */
export const usePieces = createGlobalState((): Pieces => {
  const held = shallowRef<Held | null>(null)
  const landing = shallowRef<Landing | null>(null)
  const copied = useSessionStorage('copied-piece', '')
  const book = useBook()

  /** Whether the clipboard could not be written, so that what was copied last is known here alone. */
  let onlyHere = false
  /** Keeps a need or step for pasting: in this tab, and in the clipboard where the browser lets it. */
  async function keep(text: string): Promise<void> {
    copied.value = text
    onlyHere = !(await toClipboard(text))
  }
  function fromClipboard(event: ClipboardEvent): string {
    const text = event.clipboardData?.getData('text/plain') ?? ''
    return onlyHere || !text ? copied.value : text
  }
  const valuesOf = (place: TextPlace): Record<string, unknown> => ({ ...book.rows.get(place.record)?.values })
  function textOf(place: TextPlace): string {
    return String(valuesOf(place)[place.field] ?? '')
  }
  function put(place: TextPlace, values: Record<string, unknown>): Partial<ChangeAsked> {
    return textChange(place, values, valuesOf(place))
  }
  async function rearranged(
    text: string,
    start: Start,
    how: { take?: string; put?: string; to?: string },
  ): Promise<Schemas['RearrangedShape']> {
    return answered<Schemas['RearrangedShape']>(
      await api.POST('/api/rearrange', { body: { take: '', put: '', to: '', ...how, text, start } }),
    )
  }
  /** A text with a piece put in: at the place asked for, or at the end of the part where such a piece can stand. */
  async function pasted(text: string, start: Start, put: string, to: string): Promise<string> {
    try {
      return (await rearranged(text, start, { put, to })).text
    } catch (error) {
      const misplaced = error instanceof RefusedError && error.refusal.problems[0]?.code === 'misplaced_piece'
      if (!misplaced || start !== 'cue') throw error
      return (await rearranged(text, start, { put, to: to.startsWith('needs') ? 'steps' : 'needs' })).text
    }
  }
  async function drop(copy: boolean): Promise<void> {
    const [from, to] = [held.value, landing.value]
    held.value = landing.value = null
    if (!from || !to) return
    const what = isNeed(from.piece) ? 'need' : 'step'
    const name = `${copy ? 'Copied' : 'Moved'} a ${what}`
    const same = from.record === to.record && from.field === to.field
    if (same && !copy) {
      const done = await rearranged(textOf(from), from.start, { take: from.piece, to: to.to })
      if (done.text !== textOf(from)) await book.edit([put(from, { [from.field]: done.text })], name)
      return
    }
    const left = await rearranged(textOf(from), from.start, { take: from.piece })
    const grown = await rearranged(textOf(to), to.start, { put: left.taken, to: to.to })
    const changes = [...(copy ? [] : [[from, left.text] as const]), [to, grown.text] as const]
    await book.edit(
      changes.map(([place, text]) => put(place, { [place.field]: text })),
      name,
    )
  }
  return { held, landing, copied, keep, fromClipboard, textOf, rearranged, pasted, drop }
})
