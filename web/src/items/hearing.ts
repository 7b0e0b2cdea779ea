import { useBook } from '@/stores/book'

/** Play a sound's file, as it is by now. */
export function hear(project: number, key: string): void {
  const file = useBook().find('sound', key)?.values.file
  if (file) void new Audio(`/api/projects/${project}/assets/${file}`).play()
}
