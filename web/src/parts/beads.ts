/** Thread colours: none of them red, teal, amber or green. Shape and name tell threads apart first. */
export const STRANDS = ['#2B5FA8', '#7A3B8C', '#7A5A3A', '#3B4B5E', '#A03E6E', '#4A4A9A'] as const

const SHAPES: Record<string, string> = {
  circle: 'M0-7.5A7.5 7.5 0 1 1 0 7.5A7.5 7.5 0 1 1 0-7.5Z',
  diamond: 'M0-10L10 0L0 10L-10 0Z',
  square: 'M-7.5-7.5H7.5V7.5H-7.5Z',
  triangle: 'M0-9.5L10 8H-10Z',
  hexagon: 'M-5-8.5H5L10 0L5 8.5H-5L-10 0Z',
}

/** The outline of a bead about its middle. */
export function beadPath(shape: string): string {
  return SHAPES[shape] ?? (SHAPES.circle as string)
}
