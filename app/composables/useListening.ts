import { onScopeDispose, ref, shallowRef } from 'vue'
import { velocityAt } from '#core/music/loudness'
import type { Arrangement } from '#core/music/arrangement'
import type { Click } from '#core/music/loop'
import { expectedNotes, passageClock, type Passage } from '#core/music/passage'
import { messageOf } from '~/utils/messageOf'
import { useSound, type Sound } from './useSound'

/** Notes are given to the audio clock this long before they sound. */
const AHEAD_MS = 250
const LEAD_MS = 200

/** A note to be heard: ms from the beginning. Only notes of an arrangement have an id. */
export interface HeardNote { id?: string, pitch: number, onsetMs: number, durationMs: number, velocity: number }

/** Plays a passage, or any notes, by itself at any tempo, and tells which notes sound: to hear a song before touching a key. */
export function useListening(startSound: () => Promise<Sound> = useSound().start) {
  const playing = ref(false)
  const problem = ref('')
  /** The ids of the notes that sound now. */
  const sounding = shallowRef<ReadonlySet<string>>(new Set())
  /** The note that sounds or sounded last. */
  const last = shallowRef<HeardNote>()
  let end: (() => void) | undefined
  let wanted = 0

  const play = (arrangement: Arrangement, passage: Passage, bpm: number, clicks: readonly Click[] = []) =>
    playNotes(expectedNotes(arrangement, passage, bpm).map(note => ({ ...note, velocity: velocityAt(note) })), passageClock(arrangement, passage, bpm).lengthMs, clicks)

  /** Plays notes sorted by onset, with clicks, and stops after `lengthMs`. `onBegin` is told when time 0 is, on the page's clock. */
  async function playNotes(notes: readonly HeardNote[], lengthMs: number, clicks: readonly Click[] = [], onBegin?: (startMs: number) => void) {
    stop()
    const request = ++wanted
    problem.value = ''
    playing.value = true
    let sound: Sound
    try {
      sound = await startSound()
      await sound.loadPiano()
    }
    catch (error) {
      problem.value = `The sound could not be started (${messageOf(error)}).`
      playing.value = false
      return
    }
    // Stopped, or asked for something else, before the piano was there.
    if (request !== wanted) return
    const startMs = performance.now() + LEAD_MS
    performance.mark('half-step:listening', { startTime: startMs })
    onBegin?.(startMs)
    let next = 0
    let nextClick = 0
    if (clicks.length > 0) sound.setClicking(true)
    const stopTicking = sound.everyTick(() => {
      const now = performance.now() - startMs
      for (; next < notes.length && notes[next]!.onsetMs <= now + AHEAD_MS; next++) {
        const note = notes[next]!
        sound.play(note.pitch, note.velocity, startMs + note.onsetMs, note.durationMs)
      }
      for (; nextClick < clicks.length && clicks[nextClick]!.atMs <= now + AHEAD_MS; nextClick++) sound.click(startMs + clicks[nextClick]!.atMs, clicks[nextClick]!.downbeat, clicks[nextClick]!.isFiner)
      show(notes, now)
      if (now > lengthMs) stop()
    })
    end = () => {
      stopTicking()
      if (clicks.length > 0) sound.setClicking(false)
      sound.hush()
    }
  }

  function show(notes: readonly HeardNote[], now: number) {
    const ids = new Set(notes.flatMap(note => note.id !== undefined && note.onsetMs <= now && note.onsetMs + note.durationMs > now ? [note.id] : []))
    if (ids.size === sounding.value.size && [...ids].every(id => sounding.value.has(id))) return
    sounding.value = ids
    last.value = notes.findLast(note => note.onsetMs <= now) ?? last.value
  }

  function stop() {
    wanted++
    end?.()
    end = undefined
    playing.value = false
    sounding.value = new Set()
  }
  onScopeDispose(stop)

  return { playing, problem, sounding, last, play, playNotes, stop }
}
