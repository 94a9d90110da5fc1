import { onScopeDispose, ref, shallowRef } from 'vue'
import { wrap, type Remote } from 'comlink'
import { openDB, type DBSchema } from 'idb'
import type { RecordingAlignment } from '#core/audio/align-recording'
import { MAX_SECONDS } from '#core/audio/limits'
import type { Arrangement } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'
import type { SoundEvent } from '#core/sound/performance'
import type { Sound } from '~/sound/sound'
import type { AlignerWorker } from '~/workers/aligner'
import { messageOf } from '~/utils/ui/messageOf'
import { useSound } from '../sound/useSound'

/** So large a file at most: what is decoded of it has to lie in memory. */
export const MAX_RECORDING_BYTES = 60_000_000

/**
 * A recording as it is kept in this browser: never sent anywhere. `nudgeMs`: the player's own correction, + lets it
 * sound later.
 */
interface KeptRecording {
  songId: string
  arrangementId: string
  name: string
  file: Blob
  points: RecordingAlignment['points']
  nudgeMs: number
}
interface RecordingSchema extends DBSchema {
  recordings: { key: string; value: KeptRecording }
}

const openKept = () =>
  openDB<RecordingSchema>('half-step-recordings', 1, {
    upgrade: db => void db.createObjectStore('recordings', { keyPath: 'songId' }),
  })

async function alignInWorker(
  wave: Float32Array,
  sampleRate: number,
  arrangement: Arrangement,
): Promise<RecordingAlignment | undefined> {
  const worker = new Worker(new URL('../../workers/aligner.ts', import.meta.url), { type: 'module', name: 'aligner' })
  try {
    const aligner: Remote<AlignerWorker> = wrap<AlignerWorker>(worker)
    return await aligner.align(wave, sampleRate, arrangement)
  } finally {
    worker.terminate()
  }
}

const BUFFERS_KEPT = 4

/**
 * The player's own recording of a song, to play along with: where each bar lies in it is found by the program, and any
 * stretch of it is played at the loop's tempo, its pitch as it is. It stays in this browser.
 */
export function useOwnRecording(
  at: { songId: string; arrangementId: string; arrangement: Arrangement },
  changed: () => void,
  {
    startSound = useSound().start as () => Promise<Pick<Sound, 'addRecording'>>,
    decode = async (bytes: ArrayBuffer) => await new OfflineAudioContext(1, 1, 44_100).decodeAudioData(bytes),
    align = alignInWorker,
  } = {},
) {
  const state = ref<'none' | 'reading' | 'ready'>('none')
  const name = ref('')
  const problem = ref('')
  const nudgeMs = ref(0)
  const isOn = ref(true)
  /** Whether the browser could keep it; otherwise it is there until the page is left. */
  const isKept = ref(true)
  let recording: AudioBuffer | undefined
  const points = shallowRef<RecordingAlignment['points']>([])
  /** What was rendered, by where and how fast it is played: the number under which it sounds, once it is there. */
  const rendered = new Map<string, { number?: number; lengthMs: number }>()
  let turn = 0

  /** What was kept for the song, if it was made for these notes. */
  async function load() {
    const own = turn
    try {
      const kept = await (await openKept()).get('recordings', at.songId)
      if (!kept || kept.arrangementId !== at.arrangementId) return
      state.value = 'reading'
      name.value = kept.name
      const audio = await decode(await kept.file.arrayBuffer())
      // Another one was chosen meanwhile.
      if (own !== turn) return
      recording = audio
      points.value = kept.points
      nudgeMs.value = kept.nudgeMs
      state.value = 'ready'
      changed()
    } catch {
      if (own === turn) state.value = 'none'
    }
  }

  async function choose(file: File) {
    const own = ++turn
    problem.value = ''
    if (file.size > MAX_RECORDING_BYTES) {
      problem.value = `${file.name}: the file has ${Math.round(file.size / 1e6)} MB; at most ${MAX_RECORDING_BYTES / 1e6} are read`
      return
    }
    state.value = 'reading'
    name.value = file.name
    try {
      const audio = await decode(await file.arrayBuffer()).catch(() => {
        throw new Error('this browser cannot read it as audio')
      })
      if (audio.duration > MAX_SECONDS)
        throw new Error(`it lasts ${Math.round(audio.duration / 60)} minutes; at most ${MAX_SECONDS / 60} are read`)
      const found = await align(audio.getChannelData(0), audio.sampleRate, at.arrangement)
      if (own !== turn) return
      if (!found)
        throw new Error(
          'it was not recognised as this song. It should be a recording of the whole song, in the same key',
        )
      recording = audio
      points.value = found.points
      nudgeMs.value = 0
      rendered.clear()
      state.value = 'ready'
      isOn.value = true
      await keep(file)
      changed()
    } catch (error) {
      if (own !== turn) return
      state.value = recording ? 'ready' : 'none'
      problem.value = `${file.name}: ${messageOf(error)}.`
    }
  }

  /** Some browsers keep nothing (private windows), or have no room. */
  async function keep(file: Blob) {
    isKept.value = true
    try {
      await (
        await openKept()
      ).put('recordings', {
        songId: at.songId,
        arrangementId: at.arrangementId,
        name: name.value,
        file,
        points: points.value,
        nudgeMs: nudgeMs.value,
      })
    } catch {
      isKept.value = false
    }
  }

  async function nudge(byMs: number) {
    nudgeMs.value += byMs
    rendered.clear()
    changed()
    const database = await openKept().catch(() => undefined)
    const kept = await database?.get('recordings', at.songId)
    if (kept) await database!.put('recordings', { ...kept, nudgeMs: nudgeMs.value })
  }

  async function remove() {
    turn++
    state.value = 'none'
    recording = undefined
    rendered.clear()
    changed()
    await (await openKept().catch(() => undefined))?.delete('recordings', at.songId)
  }

  /** What sounds of it beside a stretch at a tempo: once it is rendered, which takes a moment. */
  function events({ stretch, bpm }: { stretch: ScoreSpan; bpm: number }): readonly SoundEvent[] {
    if (state.value !== 'ready' || !recording || !isOn.value) return []
    const key = JSON.stringify([stretch, bpm])
    const known = rendered.get(key)
    if (!known) void render(key, stretch, bpm)
    return known?.number === undefined
      ? []
      : [{ voice: 'file', atMs: 0, lengthMs: known.lengthMs, pitch: known.number, velocity: 127 }]
  }

  async function render(key: string, stretch: ScoreSpan, bpm: number) {
    const own: { number?: number; lengthMs: number } = { lengthMs: 0 }
    rendered.set(key, own)
    if (rendered.size > BUFFERS_KEPT) rendered.delete(rendered.keys().next().value!)
    try {
      // Only loaded where there is a recording.
      const [{ backingPieces }, { stretched }] = await Promise.all([
        import('#core/audio/backing'),
        import('~/sound/stretched'),
      ])
      const { pieces, lengthSeconds } = backingPieces(at.arrangement, { points: points.value }, stretch, bpm)
      const shift = nudgeMs.value / 1000
      const buffer = await stretched(
        recording!,
        pieces.map(piece => ({ ...piece, fromSeconds: Math.max(0, piece.fromSeconds - shift * piece.rate) })),
        lengthSeconds,
      )
      const sound = await startSound()
      // Moved, exchanged or forgotten meanwhile.
      if (rendered.get(key) !== own) return
      Object.assign(own, { number: sound.addRecording(buffer), lengthMs: lengthSeconds * 1000 })
      changed()
    } catch (error) {
      if (rendered.get(key) !== own) return
      rendered.delete(key)
      isOn.value = false
      problem.value = `The recording could not be slowed (${messageOf(error)}).`
    }
  }

  function turnOn(on: boolean) {
    isOn.value = on
    changed()
  }

  onScopeDispose(() => {
    turn++
  })
  return { state, name, problem, nudgeMs, isOn, isKept, load, choose, nudge, remove, turnOn, events }
}
