import type { EditDone, RowOf } from '@/api/client'
import { useBook } from '@/stores/book'
import type { Placed } from './designs'
import type { Drawn } from './drawing'
import type { Point } from './geometry'

interface Wiring {
  level: () => RowOf<'level'> | undefined
  objects: () => Placed[]
  chosen: () => Placed | undefined
  group: () => Placed[]
  select: (key: string) => void
}
type Values = Record<string, unknown>
export interface PlanEdits {
  move: (key: string, by: Point, done: boolean, copy: boolean) => Promise<void>
  letGo: () => void
  nudge: (event: KeyboardEvent) => boolean
  turn: (by: number) => Promise<void>
  own: (path: string, value: unknown, done: boolean) => Promise<void>
  ownAll: (path: string, value: unknown) => Promise<EditDone>
  setAll: (values: Values) => Promise<EditDone>
  duplicate: () => Promise<void>
  remove: (clean: boolean, other?: number) => Promise<void>
  draw: (drawn: Drawn) => Promise<void>
  addExit: () => Promise<string>
  /** An exit back from where another leads; its name in cues. */
  addBack: (exit: RowOf<'exit'>) => Promise<string>
}

/** How far behind whoever arrives the way back lies. */
const BEHIND_M = 1.2
const NUDGES: Record<string, [number, number]> = {
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
  ArrowUp: [0, 1],
  ArrowDown: [0, -1],
}

function millimetres(value: number): number {
  return Math.round(value * 1000) / 1000
}

/** What the plan changes: one object, or all that are selected, always as one edit. */
export function usePlanEdits(wiring: Wiring): PlanEdits {
  const book = useBook()
  let gesture = 0
  let offset: Point = { x: 1, y: 0 }
  const origins = new Map<number, Point>()

  /** What an edit of an object means: all that are selected, where it is one of them. */
  function meant(key: string): readonly RowOf<'object'>[] {
    const group = wiring.group().map((o) => o.row)
    if (group.length > 1 && group.some((r) => r.key === key)) return group
    const one = wiring.objects().find((o) => o.row.key === key)
    return one ? [one.row] : []
  }
  function chosenRows(): readonly RowOf<'object'>[] {
    const group = wiring.group().map((o) => o.row)
    const one = wiring.chosen()?.row
    return group.length > 1 ? group : one ? [one] : []
  }
  function named(rows: readonly RowOf<'object'>[], verb: string): string {
    return rows.length > 1 ? `${verb} ${rows.length} objects` : `${verb} ${rows[0]?.values.name ?? ''}`
  }
  function all(
    rows: readonly RowOf<'object'>[],
    values: (row: RowOf<'object'>) => Values,
    name: string,
    held = '',
  ): Promise<EditDone> {
    for (const row of rows) book.show(row.id, values(row))
    return book.edit(
      rows.map((r) => ({ do: 'set', id: r.id, values: values(r) as never })),
      name,
      held,
    )
  }
  async function move(key: string, by: Point, done: boolean, copy: boolean): Promise<void> {
    const rows = meant(key)
    for (const row of rows) if (!origins.has(row.id)) origins.set(row.id, { x: row.values.x_m, y: row.values.y_m })
    const at = (row: RowOf<'object'>): Values => ({
      x_m: millimetres((origins.get(row.id)?.x ?? 0) + by.x),
      y_m: millimetres((origins.get(row.id)?.y ?? 0) + by.y),
    })
    for (const row of rows) book.show(row.id, at(row))
    if (!done) return
    if (copy) {
      book.restore()
      offset = by
      origins.clear()
      await copyBy(rows, by)
    } else {
      const values = new Map(rows.map((r) => [r.id, at(r)]))
      origins.clear()
      await all(rows, (r) => values.get(r.id) ?? {}, named(rows, 'Moved'))
    }
  }
  /** A drag was given up: everything is where it was. */
  function letGo(): void {
    origins.clear()
  }
  function nudge(event: KeyboardEvent): boolean {
    const by = NUDGES[event.key]
    const rows = chosenRows()
    if (!by || !rows.length || event.ctrlKey) return false
    const step = event.shiftKey ? 0.05 : 0.25
    if (!event.repeat) gesture = Date.now()
    void all(
      rows,
      (r) => ({ x_m: millimetres(r.values.x_m + by[0] * step), y_m: millimetres(r.values.y_m + by[1] * step) }),
      named(rows, 'Moved'),
      `nudge:${gesture}`,
    ).catch(() => undefined)
    return true
  }
  async function turn(by: number): Promise<void> {
    const rows = chosenRows()
    if (rows.length) await all(rows, (r) => ({ turn_deg: (r.values.turn_deg + by + 360) % 360 }), named(rows, 'Turned'))
  }
  async function own(path: string, value: unknown, done: boolean): Promise<void> {
    const row = wiring.chosen()?.row
    if (!row) return
    const changed = spread(path, value)
    const values = { own: { ...row.values.own, ...changed } }
    book.showInDesign(row.id, changed)
    if (done)
      await book.set(
        row.id,
        values,
        path.startsWith('reach') ? `Sized the reach of ${row.values.name}` : `Changed the motion of ${row.values.name}`,
      )
  }
  function ownAll(path: string, value: unknown): Promise<EditDone> {
    const rows = chosenRows()
    for (const row of rows) book.showInDesign(row.id, { [path]: value })
    return all(
      rows,
      (r) => ({ own: { ...r.values.own, [path]: value } }),
      `Changed the ${path.replaceAll('.', ' ').replaceAll('_', ' ')} of ${rows.length} objects`,
    )
  }
  function setAll(values: Values): Promise<EditDone> {
    const rows = chosenRows()
    return all(rows, () => values, named(rows, 'Changed'))
  }
  async function copyBy(rows: readonly RowOf<'object'>[], by: Point): Promise<void> {
    const done = await book.duplicate(
      rows.map((r) => r.id),
      by.x,
      by.y,
    )
    wiring.select(done.select)
  }
  async function duplicate(): Promise<void> {
    const rows = chosenRows()
    if (rows.length) await copyBy(rows, offset)
  }
  async function remove(clean: boolean, other?: number): Promise<void> {
    const rows = chosenRows().map((r) => r.id)
    const ids = rows.length ? rows : other === undefined ? [] : [other]
    if (ids.length)
      await book.edit(
        ids.map((id) => ({ do: 'remove', id, clean })),
        rows.length > 1 ? `Deleted ${rows.length} objects` : '',
      )
  }
  async function draw(drawn: Drawn): Promise<void> {
    const level = wiring.level()
    if (!level) return
    const area = drawn.kind === 'area'
    const values = area
      ? { name: book.freshName('area', 'Room'), outline: drawn.points }
      : { points: drawn.points }
    const done = await book.edit(
      [{ do: 'add', type: drawn.kind, owner: level.id, values: values as never }],
      area ? 'Drew an area' : 'Drew a wall',
    )
    const made = done.rows.find((r) => r.type === drawn.kind)
    if (made) wiring.select(made.key)
  }
  async function addExit(): Promise<string> {
    const level = wiring.level()
    if (!level) return ''
    const { start_x_m: x, start_y_m: y } = level.values
    const name = book.freshName('exit', 'New exit')
    const to = book.of('level').find((other) => other.id !== level.id)
    const there = { to_level: to?.key ?? '', to_x_m: to?.values.start_x_m ?? 0, to_y_m: to?.values.start_y_m ?? 0 }
    const values = { name, x_m: x + 1.5, y_m: y, ...there, to_facing_deg: to?.values.start_facing_deg ?? 0 }
    const done = await book.edit(
      [{ do: 'add', type: 'exit', owner: level.id, values: values as never }],
      'Added an exit',
    )
    return done.rows.find((r) => r.type === 'exit')?.key ?? ''
  }
  /** An exit back from where another leads: behind whoever arrives there, to the patch of the first. */
  async function addBack(exit: RowOf<'exit'>): Promise<string> {
    const { to_level, to_x_m, to_y_m, to_facing_deg, x_m, y_m, name } = exit.values
    const to = book.of('level').find((one) => one.key === to_level)
    const from = book.of('level').find((one) => one.id === exit.owner)
    if (!to || !from) return ''
    const facing = (to_facing_deg * Math.PI) / 180
    const behind = {
      x_m: millimetres(to_x_m - BEHIND_M * Math.cos(facing)),
      y_m: millimetres(to_y_m - BEHIND_M * Math.sin(facing)),
    }
    const back = { to_level: from.key, to_x_m: x_m, to_y_m: y_m, to_facing_deg: (to_facing_deg + 180) % 360 }
    const values = { name: book.freshName('exit', `Back by ${name}`), ...behind, ...back }
    const add = { do: 'add' as const, type: 'exit' as const, owner: to.id, values: values as never }
    const done = await book.edit([add], `Added a way back by ${name}`)
    return done.rows.find((r) => r.type === 'exit')?.key ?? ''
  }
  return { move, nudge, turn, own, ownAll, setAll, duplicate, remove, letGo, draw, addExit, addBack }
}

/** A value that stands for several paths (a hinge has two coordinates) as those paths. */
function spread(path: string, value: unknown): Values {
  if (path !== 'motion') return { [path]: value }
  const { hinge_x_m, hinge_y_m } = value as { hinge_x_m: number; hinge_y_m: number }
  return { 'motion.hinge_x_m': hinge_x_m, 'motion.hinge_y_m': hinge_y_m }
}
