import type { RowOf } from '@/api/client'
import type { Placed } from './designs'

export interface AreaGroup {
  name: string
  objects: Placed[]
}

/**
 * Objects by the area they stand in, in the order of the areas; those on no floor last. While it is not known where
 * they stand they are in one group.
 */
export function byArea(
  areas: RowOf<'area'>[],
  objects: Placed[],
  standing: Record<string, string> | null,
): AreaGroup[] {
  if (!standing) return [{ name: 'Everything', objects }].filter((g) => g.objects.length)
  const groups = new Map<string, Placed[]>()
  for (const one of objects) {
    const area = standing[one.row.key] ?? ''
    groups.set(area, [...(groups.get(area) ?? []), one])
  }
  const named = areas.map((a) => ({ name: a.values.name, objects: groups.get(a.key) ?? [] }))
  return [...named, { name: 'On no floor', objects: groups.get('') ?? [] }].filter((g) => g.objects.length)
}
