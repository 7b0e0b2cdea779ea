import type { RowOf } from '@/api/client'
import type { Placed } from './designs'

export interface AreaGroup {
  /** The name in cues of the area; empty for those on no floor. */
  area: string
  name: string
  objects: Placed[]
}

/**
 * Objects by the area they stand in, in the order of the areas; those on no floor last. While it is not known where
 * they stand they are in one group.
 */
export function byArea(
  areas: readonly RowOf<'area'>[],
  objects: Placed[],
  standing: Record<string, string> | null,
): AreaGroup[] {
  if (!standing) return [{ area: '', name: 'Everything', objects }].filter((g) => g.objects.length)
  const groups = new Map<string, Placed[]>()
  for (const one of objects) {
    const area = standing[one.row.key] ?? ''
    groups.set(area, [...(groups.get(area) ?? []), one])
  }
  const named = areas.map((a) => ({ area: a.key, name: a.values.name, objects: groups.get(a.key) ?? [] }))
  const outside = { area: '', name: 'On no floor', objects: groups.get('') ?? [] }
  return [...named, outside].filter((g) => g.area || g.objects.length)
}
