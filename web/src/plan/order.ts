import type { RowOf } from '@/api/client'
import type { Placed } from './designs'

export interface AreaGroup {
  name: string
  objects: Placed[]
}

/** Whether a point lies inside an outline. */
export function inside(x: number, y: number, outline: readonly (readonly number[])[]): boolean {
  let result = false
  for (let i = 0, j = outline.length - 1; i < outline.length; j = i++) {
    const [xi = 0, yi = 0] = outline[i] ?? []
    const [xj = 0, yj = 0] = outline[j] ?? []
    if (yi > y !== yj > y && x < ((xj - xi) * (y - yi)) / (yj - yi) + xi) result = !result
  }
  return result
}

export function areaAt(areas: RowOf<'area'>[], x: number, y: number): RowOf<'area'> | undefined {
  return areas.find((a) => inside(x, y, a.values.outline))
}

/** Objects by the area they stand in, in the order of the areas; those on no floor last. */
export function areaOf(areas: RowOf<'area'>[], objects: Placed[]): AreaGroup[] {
  const groups = areas.map((area) => ({
    name: area.values.name,
    objects: objects.filter((o) => areaAt(areas, o.row.values.x_m, o.row.values.y_m)?.id === area.id),
  }))
  const outside = objects.filter((o) => !areaAt(areas, o.row.values.x_m, o.row.values.y_m))
  return [...groups, { name: 'On no floor', objects: outside }].filter((g) => g.objects.length)
}
