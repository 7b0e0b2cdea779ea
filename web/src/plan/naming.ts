import { computed, ref, type ComputedRef } from 'vue'
import type { RowOf, Schemas } from '@/api/client'
import type { Placed } from './designs'
import { boundsOf, labelText, nameWithin, reachMiddle, type Box, type Point } from './geometry'
import { exitEndOf, handlesOf, sidesOf, type Said } from './handles'
import { placedLabels, type Label, type Ring, type Seeking } from './labels'
import { forgetWidths, textWidth } from './textwidth'

/** The name of an area with its floor, as much as it has room for. */
export interface AreaName {
  area: RowOf<'area'>
  name: string
  floor: string
  at: Point
  label: Label
}
/** Who wins an overlap of the selected object. */
export interface OverlapNote {
  id: string
  says: string
  at: Point
  label: Label
}
export interface PlanNames {
  /** Those that stand back among them: they are shown while their object is pointed at. */
  objects: Map<string, Label>
  areas: AreaName[]
  exits: Map<number, Label>
  handles: Record<string, Label>
  overlaps: OverlapNote[]
}
interface Options {
  level: () => RowOf<'level'>
  areas: () => readonly RowOf<'area'>[]
  walls: () => readonly RowOf<'wall'>[]
  exits: () => readonly RowOf<'exit'>[]
  objects: () => Placed[]
  overlaps: () => Schemas['OverlapShape'][]
  selected: () => string
  /** Whether the name of an object is written strongly. */
  strong: (one: Placed) => boolean
  /** Whether the reach of an object is drawn. */
  reached: (one: Placed) => boolean
  /** Whether names of objects are shown at this scale. */
  close: () => boolean
  /** The drawing's transform: pixels = (x, y) + k × metres. */
  drawn: () => { x: number; y: number; k: number }
  view: () => { width: number; height: number }
}

const NAME = (text: string, bold = false): number => textWidth(text, `${bold ? 700 : 400} 13px`, '--text')
const NOTE = (text: string): number => textWidth(text, '12.5px', '--text')
const SAYS = (text: string): number => textWidth(text, '13px', '--mono')
const HEAD = (text: string): number => textWidth(text, '650 13.5px', '--head')
/** Round a badge: below and above first, then beside it, then beside and lower or higher. */
const ROUND: Label[] = [
  { dx: 0, dy: 33, anchor: 'middle' },
  { dx: 0, dy: -25, anchor: 'middle' },
  { dx: 24, dy: 5, anchor: 'start' },
  { dx: -24, dy: 5, anchor: 'end' },
  { dx: 14, dy: 28, anchor: 'start' },
  { dx: -14, dy: 28, anchor: 'end' },
  { dx: 14, dy: -19, anchor: 'start' },
  { dx: -14, dy: -19, anchor: 'end' },
]
const BESIDE: Label[] = [
  { dx: 13, dy: 5, anchor: 'start' },
  { dx: -13, dy: 5, anchor: 'end' },
  { dx: 0, dy: -11, anchor: 'middle' },
  { dx: 0, dy: 21, anchor: 'middle' },
  { dx: 9, dy: -7, anchor: 'start' },
  { dx: -9, dy: -7, anchor: 'end' },
  { dx: 9, dy: 18, anchor: 'start' },
  { dx: -9, dy: 18, anchor: 'end' },
]
/** Close to a badge as well, for what finds no place right at its sides. */
const CORNERS: Label[] = [24, 20, 8].flatMap((x, i) =>
  [-1, 1].flatMap((side): Label[] => [
    { dx: side * x, dy: [-8, -14, -25][i] ?? 0, anchor: side > 0 ? 'start' : 'end' },
    { dx: side * x, dy: [18, 24, 33][i] ?? 0, anchor: side > 0 ? 'start' : 'end' },
  ]),
)
/** What a text on the plan is worth where two of them have one place. */
const MATTERS = { held: 5, chosen: 4, exit: 3, area: 2, note: 2, object: 1 }
/** Where in its area a name may stand, by shares of its room to the right and down. */
const SHARES = [
  [0, 0],
  [1, 0],
  [0, 1],
  [1, 1],
  [0.5, 0],
  ...[1, 2, 3, 4, 5, 6, 7, 8].flatMap((row) => [0, 0.25, 0.5, 0.75, 1].map((col) => [col, row / 8])),
]
/** A little further off, for what stands in a crowd. */
const FURTHER: Label[] = [
  { dx: 22, dy: -24, anchor: 'start' },
  { dx: -22, dy: -24, anchor: 'end' },
  { dx: 22, dy: 34, anchor: 'start' },
  { dx: -22, dy: 34, anchor: 'end' },
]

/**
 * Where all texts of the plan stand: what is selected first, then exits and objects, and the names of areas where room
 * is left.
 */
export function usePlanNames(of: Options): ComputedRef<PlanNames> {
  const px = (p: Point): Point => ({ x: of.drawn().x + p.x * of.drawn().k, y: of.drawn().y - p.y * of.drawn().k })
  const spotOf = (o: Placed): Point => px({ x: o.row.values.x_m, y: o.row.values.y_m })

  function heldTexts(chosen: Placed | undefined): { said: Said; seeking: Seeking }[] {
    const { size, arm, ends } = chosen ? handlesOf(chosen) : { size: null, arm: null, ends: [] }
    const outlined = [...of.areas(), ...of.walls()].find((r) => r.key === of.selected())
    const exit = of.exits().find((r) => r.key === of.selected())
    return [
      size,
      arm,
      ...ends,
      ...(outlined ? sidesOf(outlined) : []),
      ...(exit ? [exitEndOf(exit, of.level().key)] : []),
    ].flatMap((said) =>
      said
        ? [
            {
              said,
              seeking: {
                at: px(said.at),
                width: SAYS(said.says),
                spots: [...BESIDE, ...FURTHER],
                firm: true,
                matters: MATTERS.held,
              },
            },
          ]
        : [],
    )
  }
  /**
   * An area's name stands in one of its corners, or elsewhere in it; from afar, where badges are dots, in the first.
   */
  function areaText(area: RowOf<'area'>): AreaName & { seeking: Seeking } {
    const outline = area.values.outline.map(([x, y]) => px({ x: Number(x), y: Number(y) }))
    const box = screenBox(outline)
    const room = box.right - box.left
    const whole = area.values.name
    const name = area.key === of.selected() ? whole : nameWithin(whole, room - 16, HEAD)
    const high = area.values.floor_m
    const says = `${high > 0 ? '+' : '−'}${Math.abs(high)} m`
    const more = 6 + SAYS(says)
    const floor = high && name === whole && HEAD(whole) + more + 16 < room ? says : ''
    const at = { x: box.left + 8, y: box.top + 21 }
    const width = HEAD(name) + (floor ? more : 0)
    const [across, down] = [room - 16 - width, box.bottom - box.top - 30]
    const spots = (of.close() ? SHARES : SHARES.slice(0, 1)).map(([right = 0, low = 0]): Label => ({
      dx: across * right,
      dy: down * low,
      anchor: 'start',
    }))
    return {
      area,
      name,
      floor,
      at: outOfPx(at),
      label: spots[0] as Label,
      seeking: { at, width: name ? width : 0, spots, inside: outline, matters: MATTERS.area },
    }
  }
  function outOfPx(p: Point): Point {
    const { x, y, k } = of.drawn()
    return { x: (p.x - x) / k, y: (y - p.y) / k }
  }
  function noteText(overlap: Schemas['OverlapShape']): OverlapNote & { seeking: Seeking } {
    const points = (overlap.outlines[0] ?? []).map(([x, y]) => px({ x: Number(x), y: Number(y) }))
    const box = screenBox(points)
    const at = { x: (box.left + box.right) / 2, y: (box.top + box.bottom) / 2 }
    const spots = [
      [0, 4],
      [0, box.top - at.y - 6],
      [0, box.bottom - at.y + 15],
      [box.right - at.x + 6, 4],
      [box.left - at.x - 6, 4],
      [box.right - at.x + 6, box.bottom - at.y],
      [box.left - at.x - 6, box.bottom - at.y],
      [0, box.top - at.y - 34],
      [0, box.bottom - at.y + 44],
    ].map(([dx = 0, dy = 0], i): Label => ({ dx, dy, anchor: i < 3 || i > 6 ? 'middle' : i % 2 ? 'start' : 'end' }))
    return {
      id: `${overlap.a}-${overlap.b}`,
      says: overlap.says,
      at: outOfPx(at),
      label: spots[0] as Label,
      seeking: { at, width: NOTE(overlap.says), spots, matters: MATTERS.note },
    }
  }
  function nameOfObject(one: Placed, number: number): Seeking {
    const ring = of.reached(one) ? one.design.reach.radius_m * of.drawn().k : 0
    const past = ring
      ? [
          { dx: 0, dy: ring + 15, anchor: 'middle' as const },
          { dx: 0, dy: -ring - 6, anchor: 'middle' as const },
        ]
      : []
    return {
      at: spotOf(one),
      width: NAME(labelText(one.row.values.name), of.strong(one)),
      spots: [...ROUND, ...past, ...CORNERS],
      own: number,
      matters: of.strong(one) ? MATTERS.chosen : MATTERS.object,
    }
  }

  /** The name of an exit stands beside its patch of floor. */
  function exitText(exit: RowOf<'exit'>): Seeking {
    const { x_m: x, y_m: y, width_m: wide, depth_m: deep, turn_deg: turn, name } = exit.values
    const across = Math.abs(Math.sin((turn * Math.PI) / 180)) > 0.7
    const [w, h] = [(across ? deep : wide) / 2, (across ? wide : deep) / 2].map((m) => Math.max(m * of.drawn().k, 9))
    const spots: Label[] = [
      [(w ?? 0) + 6, 5],
      [-(w ?? 0) - 6, 5],
      [0, -(h ?? 0) - 6],
      [0, (h ?? 0) + 15],
    ].map(([dx = 0, dy = 0], i) => ({ dx, dy, anchor: i > 1 ? 'middle' : i ? 'end' : 'start' }))
    return { at: px({ x, y }), width: NOTE(name), spots, matters: MATTERS.exit }
  }

  const fonts = ref(0)
  void document.fonts.ready.then(() => {
    forgetWidths()
    fonts.value += 1
  })
  return computed(() => {
    void fonts.value
    const objects = of.objects()
    const chosen = objects.find((o) => o.row.key === of.selected())
    const held = heldTexts(chosen)
    const areas = of.areas().map(areaText)
    const exits = of.close() ? of.exits() : []
    const named = objects
      .filter((o) => of.close() || o === chosen)
      .sort((a, b) => Number(b === chosen) - Number(a === chosen))
    const notes = of
      .overlaps()
      .filter((o) => o.a === of.selected() || o.b === of.selected())
      .map(noteText)
    const numbers = new Map(objects.map((o, i) => [o.row.key, i]))
    const rings = objects
      .filter(of.reached)
      .map((o): Ring => ({
        at: px(reachMiddle(o)),
        r: o.design.reach.shape === 'none' ? 0 : o.design.reach.radius_m * of.drawn().k,
      }))
    const { width, height } = of.view()
    const seeking = [
      ...held.map((h) => h.seeking),
      ...exits.map(exitText),
      ...named.map((o) => nameOfObject(o, numbers.get(o.row.key) ?? -1)),
      ...notes.map((n) => n.seeking),
      ...areas.map((a) => a.seeking),
    ]
    const start = px({ x: of.level().values.start_x_m, y: of.level().values.start_y_m })
    const signs = [
      boxAbout(start, -8, 46),
      ...of.exits().map((e) => boxAbout(px({ x: e.values.x_m, y: e.values.y_m }), -12, 12)),
      ...held.map((h) => boxAbout(h.seeking.at, -6, 6)),
    ]
    const walls = (of.close() || chosen ? of.walls() : []).flatMap((w) =>
      w.values.points.slice(1).map((p, i): [Point, Point] => [px(pointOf(w.values.points[i])), px(pointOf(p))]),
    )
    const labels = placedLabels(seeking, {
      discs: of.close() || chosen ? objects.map(spotOf) : [],
      boxes: signs,
      walls,
      rings,
      view: { left: 4, top: 4, right: width - 4, bottom: height - 34 },
    })
    const next = labels[Symbol.iterator]()
    const take = (): Label => next.next().value as Label
    return {
      handles: Object.fromEntries(held.map((h) => [h.said.key, take()])),
      exits: new Map(exits.map((e): [number, Label] => [e.id, take()]).filter(([, label]) => !label.back)),
      objects: new Map(named.map((o) => [o.row.key, take()])),
      overlaps: notes.map((n) => ({ ...n, label: take() })).filter((n) => !n.label.back),
      areas: areas.map((a) => ({ ...a, label: take() })).filter((a) => !a.label.back),
    }
  })
}

function pointOf(p: readonly unknown[] | undefined): Point {
  return { x: Number(p?.[0] ?? 0), y: Number(p?.[1] ?? 0) }
}
/** The box of points on the screen, whose y goes down. */
function screenBox(points: Point[]): Box {
  const { left, right, bottom, top } = boundsOf(points, 0)
  return { left, right, top: bottom, bottom: top }
}
function boxAbout(p: Point, from: number, to: number): Box {
  return { left: p.x + from, right: p.x + to, top: p.y - 8, bottom: p.y + 8 }
}
