import { nextTick } from 'vue'

const MOST_FRAMES = 120

/** Opens a word that was just put on a page, once it stands there: what is new is named and filled in at once. */
export async function openWord(find: () => HTMLElement | null | undefined): Promise<void> {
  await nextTick()
  for (let i = 0; i < MOST_FRAMES; i++) {
    const word = find()
    if (word) {
      word.click()
      return
    }
    await new Promise((done) => requestAnimationFrame(done))
  }
}
/** The word of the heading, once the page of something is that of a name. */
export function headingWord(name: string): HTMLElement | null {
  const word = document.querySelector<HTMLElement>('h1 [data-word="name"]')
  return word?.textContent?.trim() === name ? word : null
}
