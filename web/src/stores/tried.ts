import { useStorage } from '@vueuse/core'
import { defineStore } from 'pinia'
import { computed } from 'vue'
import type { ChangeAsked } from '@/api/client'
import { useBook } from './book'

/** A value that was tried in a walk and is in the project no other than before. */
export interface TriedValue {
  /** `project`, `camera`, an object or a line, by its name. */
  of: string
  path: string
  label: string
  unit: string
  was: number | boolean
  value: number | boolean
}

/** Values tried in walks and not kept: they stay in the list until they are put into the project or let go. */
export const useTried = defineStore('tried', () => {
  const book = useBook()
  const stored = useStorage<Record<string, TriedValue[]>>('tried-values', {})
  const all = computed(() => stored.value[book.project] ?? [])
  const same = (a: TriedValue, b: Pick<TriedValue, 'of' | 'path'>): boolean => a.of === b.of && a.path === b.path

  function save(list: TriedValue[]): void {
    stored.value = { ...stored.value, [book.project]: list }
  }
  /** A value is tried; one that is as in the project is tried no more. */
  function put(one: TriedValue): void {
    const others = all.value.filter((t) => !same(t, one))
    save(one.value === one.was ? others : [...others, one])
  }
  function drop(gone: readonly TriedValue[]): void {
    save(all.value.filter((t) => !gone.some((g) => same(t, g))))
  }
  function said(value: number | boolean, unit: string): string {
    return typeof value === 'boolean' ? (value ? 'yes' : 'no') : `${value}${unit}`
  }
  const nameOf = (one: TriedValue): string =>
    one.of === 'camera' ? 'camera' : one.of === 'project' ? 'player' : book.name(one.of)
  const words = (one: TriedValue): string =>
    `${nameOf(one)} ${one.label} ${said(one.was, '')} → ${said(one.value, one.unit)}`

  /** The changes that put values into the project, one for each record. */
  function changesOf(ones: readonly TriedValue[]): Partial<ChangeAsked>[] {
    const values = new Map<number, Record<string, unknown>>()
    for (const one of ones) {
      const row = one.of === 'camera' || one.of === 'project' ? book.settings : book.byKey.get(one.of)
      if (!row) continue
      const before = values.get(row.id) ?? {}
      values.set(row.id, { ...before, ...fieldOf(one, row.values as Record<string, unknown>, before) })
    }
    return [...values].map(([id, changed]) => ({ do: 'set', id, values: changed as never }))
  }
  function fieldOf(
    one: TriedValue,
    values: Record<string, unknown>,
    before: Record<string, unknown>,
  ): Record<string, unknown> {
    if (one.path === 'seconds') return { seconds: one.value }
    const [field, path] =
      one.of === 'camera' || one.of === 'project'
        ? ([one.of === 'camera' ? 'camera' : 'player', one.path.split('.').pop() ?? ''] as const)
        : (['own', one.path] as const)
    return { [field]: { ...((before[field] ?? values[field]) as object), [path]: one.value } }
  }
  /** Puts values into the project as one named edit. */
  async function keep(ones: readonly TriedValue[]): Promise<void> {
    const [one] = ones
    const name = ones.length === 1 && one ? `Kept from a walk: ${words(one)}` : `Kept ${ones.length} values from a walk`
    await book.edit(changesOf(ones), name.slice(0, 200))
    drop(ones)
  }
  return { all, put, drop, keep, nameOf, said, words }
})
