import { RefusedError } from '@/api/client'
import { useBook } from './book'
import { useTurns } from './turns'

/** What the server works out by itself: as far as it has come, and whether it goes on. */
interface Coming {
  stamp: number
  going: boolean
}
export interface Following {
  /** Reads what has come of it, and goes on reading while it comes on; a refusal ends that quietly. */
  patiently: () => Promise<void>
  /** Lets go of what is being followed. */
  letGo: () => void
}

/** Follows work in the background: each reading waits for something newer, until an edit or the end. */
export function useFollowing<T extends Coming>(
  read: (query: { stamp?: number }) => Promise<T>,
  take: (found: T) => void,
  wanted: () => boolean = () => true,
): Following {
  const book = useBook()
  const { afterwards } = useTurns()
  let latest = 0

  async function follow(): Promise<void> {
    const mine = ++latest
    await afterwards()
    let query: { stamp?: number } = {}
    const at = book.editNumber // After an edit it is asked for again once edits have settled.
    while (book.project && wanted() && mine === latest && book.editNumber === at) {
      const found = await read(query)
      if (mine !== latest) return
      take(found)
      query = { stamp: found.stamp }
      if (!found.going) return
    }
  }
  async function patiently(): Promise<void> {
    try {
      await follow()
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error
    }
  }
  return { patiently, letGo: () => void latest++ }
}
