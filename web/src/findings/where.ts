import type { RouteLocationRaw } from 'vue-router'
import { leadOf } from '@/page/leads'
import type { useBook } from '@/stores/book'
import type { Finding } from '@/stores/findings'

/** The address of the page on which a finding stands. */
export function whereOf(book: ReturnType<typeof useBook>, one: Finding): RouteLocationRaw {
  const found = [one.record, one.owner].map((id) => (id ? leadOf(book, id) : null)).find(Boolean)
  return found ?? { name: 'project', params: { selected: '' } }
}

/** Words with those that a finding marks apart. */
export function marked(says: string, marks: string): [before: string, marked: string, after: string] {
  const at = marks ? says.indexOf(marks) : -1
  return at < 0 ? [says, '', ''] : [says.slice(0, at), marks, says.slice(at + marks.length)]
}
