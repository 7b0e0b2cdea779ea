import { TICKS_A_SECOND } from '@/api/described'
import { onUnmounted, watch } from 'vue'
import type { RowOf } from '@/api/client'
import type { PlaytestRun, Talk } from './connection'

const HALF_AS_LOUD_M = 5

interface Wiring {
  run: PlaytestRun
  project: () => number
  /** Whether anything is to be heard. */
  on: () => boolean
  sound: (key: string) => RowOf<'sound'> | undefined
  place: (key: string) => { x: number; y: number } | undefined
}

/**
 * Plays the sounds a run tells of, softer from farther away. Before the first key or click a browser keeps them
 * silent.
 */
export function useSounds(wiring: Wiring): void {
  const playing = new Set<HTMLAudioElement>()
  let heard = 0

  function play(key: string, at: string, spot?: [number, number]): HTMLAudioElement | null {
    const file = wiring.sound(key)?.values.file
    if (!file || !wiring.on()) return null
    const audio = new Audio(`/api/projects/${wiring.project()}/assets/${file}`)
    const place = spot ? { x: spot[0], y: spot[1] } : wiring.place(at)
    const [x = 0, y = 0] = wiring.run.picture.value?.player ?? []
    const gap = place ? Math.hypot(place.x - x, place.y - y) : 0
    audio.volume = HALF_AS_LOUD_M / (HALF_AS_LOUD_M + gap)
    playing.add(audio)
    audio.onended = () => playing.delete(audio)
    audio.play().catch((error: DOMException) => {
      playing.delete(audio)
      if (!['NotAllowedError', 'AbortError'].includes(error.name)) throw error
    })
    return audio
  }
  watch(wiring.on, (on) => on || playing.forEach((audio) => audio.pause()))
  watch(wiring.run.picture, (picture) => {
    if (!picture) return
    if (picture.tick < heard) heard = 0
    speak(picture.talk)
    for (const told of picture.told)
      if (told.what === 'sound' && told.tick >= heard && told.tick > picture.tick - TICKS_A_SECOND)
        play(told.subject, told.at ?? '', told.spot)
    heard = picture.tick + 1
  })
  let spoken: { line: string; voice: number; audio: HTMLAudioElement | null } | null = null
  /** The voice of the line that is said now; it stops with the line, and begins anew with it. */
  function speak(talk: Talk | null): void {
    if (talk && talk.line === spoken?.line && talk.voice >= spoken.voice) {
      spoken.voice = talk.voice
      return
    }
    spoken?.audio?.pause()
    spoken = talk && { line: talk.line, voice: talk.voice, audio: talk.sound ? play(talk.sound, '') : null }
  }
  onUnmounted(() => playing.forEach((audio) => audio.pause()))
}
