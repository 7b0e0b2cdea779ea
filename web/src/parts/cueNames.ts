/** A shown name as it is written in cues: small letters, digits and underscores, from a letter on; empty for none. */
export const asKey = (typed: string): string =>
  typed
    .trim()
    .toLowerCase()
    .replace(/[^a-z0-9]+/g, '_')
    .replace(/^[^a-z]+|_+$/g, '')
