const known = new Map<string, number>()
let context: CanvasRenderingContext2D | null = null
let families: CSSStyleDeclaration | null = null

/** How wide a text stands in a font of the theme, pixels: `700 13px` and the custom property that names its family. */
export function textWidth(text: string, size: string, family: '--text' | '--head' | '--mono'): number {
  const key = `${size} ${family} ${text}`
  const before = known.get(key)
  if (before !== undefined) return before
  context ??= document.createElement('canvas').getContext('2d')
  if (!context) return text.length * 8
  context.font = fontOf(size, family)
  const width = context.measureText(text).width
  known.set(key, width)
  return width
}
/** What was measured before a font had come is measured anew. */
export function forgetWidths(): void {
  known.clear()
  fonts.clear()
}

const fonts = new Map<string, string>()
/** A font as a canvas names it; asking for a style is dear, so each is asked for once. */
function fontOf(size: string, family: string): string {
  const key = `${size} ${family}`
  let font = fonts.get(key)
  if (font === undefined) {
    families ??= getComputedStyle(document.documentElement)
    font = `${size} ${families.getPropertyValue(family)}`
    fonts.set(key, font)
  }
  return font
}
