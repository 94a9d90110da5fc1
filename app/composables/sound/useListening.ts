import { onScopeDispose, ref, shallowRef } from 'vue'
import { withPedal, type RenderedScore, type SoundEvent } from '#core/sound/performance'
import { messageOf } from '~/utils/ui/messageOf'
import type { Sound } from '~/sound/sound'
import { useSound } from './useSound'

const LEAD_MS = 200
/** How long an instrument's recordings are waited for; then computed tones replace them. */
const WAITS_MS = 1_500

export interface ListeningOptions {
  /** Told when time 0 is, on the page's clock. */
  onBegin?: (startMs: number) => void
}

/** Plays a performance by itself and tells which notes sound: to hear a song before touching a key. */
export function useListening(startSound: () => Promise<Sound> = useSound().start) {
  const playing = ref(false)
  const problem = ref('')
  /** How much of the recordings has come, from 0 to 1, while they are waited for. */
  const loaded = ref(1)
  /** The ids of the notes that sound now. */
  const sounding = shallowRef<ReadonlySet<string>>(new Set())
  /** The note that sounds or sounded last. */
  const last = shallowRef<SoundEvent>()
  /** How far it has come, ms from the beginning; undefined while nothing is played. */
  const atMs = ref<number>()
  let end: (() => void) | undefined
  let wanted = 0

  /** Plays all of it, and stops at its end. */
  async function play(performance: RenderedScore, { onBegin }: ListeningOptions = {}) {
    stop()
    const request = ++wanted
    problem.value = ''
    playing.value = true
    let sound: Sound
    try {
      sound = await startSound()
      loaded.value = 0
      await Promise.race([
        sound.prepare(performance.voices, share => {
          loaded.value = share
        }),
        new Promise(resolve => setTimeout(resolve, WAITS_MS)),
      ])
      loaded.value = 1
    } catch (error) {
      problem.value = `The sound could not be started (${messageOf(error)}).`
      playing.value = false
      return
    }
    // Stopped, or asked for something else, before the piano was there.
    if (request !== wanted) return
    begin(sound, withPedal(performance), performance, onBegin)
  }

  function begin(
    sound: Sound,
    events: readonly SoundEvent[],
    { events: written, lengthMs }: RenderedScore,
    onBegin?: (startMs: number) => void,
  ) {
    const startMs = performance.now() + LEAD_MS
    performance.mark('half-step:listening', { startTime: startMs })
    onBegin?.(startMs)
    const line = sound.line()
    line.add(events, startMs)
    const notes = written.filter(({ voice }) => voice !== 'click')
    const stopTicking = sound.everyTick(() => {
      const now = performance.now() - startMs
      show(notes, now)
      atMs.value = now
      if (now > lengthMs) stop()
    })
    end = () => {
      stopTicking()
      line.cut()
    }
  }

  function show(notes: readonly SoundEvent[], now: number) {
    const ids = new Set(
      notes.flatMap(note =>
        note.noteId !== undefined && note.atMs <= now && note.atMs + note.lengthMs > now ? [note.noteId] : [],
      ),
    )
    last.value = notes.findLast(note => note.atMs <= now) ?? last.value
    if (ids.size === sounding.value.size && [...ids].every(id => sounding.value.has(id))) return
    sounding.value = ids
  }

  function stop() {
    wanted++
    end?.()
    end = undefined
    playing.value = false
    atMs.value = undefined
    sounding.value = new Set()
  }
  onScopeDispose(stop)

  return { playing, problem, loaded, sounding, last, atMs, play, stop }
}
