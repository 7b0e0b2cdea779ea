import type { useBook } from '@/stores/book'
import type { Mark, useFindings } from '@/stores/findings'

/** What the findings of a stage, or of one of its objectives, say of its bead. */
export function flagOf(
  book: ReturnType<typeof useBook>,
  findings: ReturnType<typeof useFindings>,
  stage: number,
): Mark | undefined {
  const ids = [stage, ...book.of('objective', stage).map((o) => o.id)]
  return ids.map((id) => findings.marks.get(id)).find(Boolean)
}
