const known = new Map<string, number>()
let context: CanvasRenderingContext2D | null = null

/** How wide a text stands in a font of the theme, pixels: `700 13px` and the custom property that names its family. */
export function textWidth(text: string, size: string, family: '--text' | '--head' | '--mono'): number {
  const key = `${size} ${family} ${text}`
  const before = known.get(key)
  if (before !== undefined) return before
  context ??= document.createElement('canvas').getContext('2d')
  if (!context) return text.length * 8
  context.font = `${size} ${getComputedStyle(document.documentElement).getPropertyValue(family)}`
  const width = context.measureText(text).width
  known.set(key, width)
  return width
}
/** What was measured before a font had come is measured anew. */
export function forgetWidths(): void {
  known.clear()
}
