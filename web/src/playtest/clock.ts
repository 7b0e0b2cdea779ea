import { TICKS_A_SECOND } from '@/api/described'

/** A tick as minutes, seconds and, if wanted, tenths. */
export function clock(tick: number, tenths = false): string {
  const all = Math.floor((tick * 10) / TICKS_A_SECOND)
  const base = `${String(Math.floor(all / 600)).padStart(2, '0')}:${String(Math.floor(all / 10) % 60).padStart(2, '0')}`
  return tenths ? `${base}.${all % 10}` : base
}
