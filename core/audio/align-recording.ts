import { bisector, median } from 'd3-array'
import type { RenderedScore } from '../sound/performance'
import {
  ANALYSIS,
  coarser,
  downsampled,
  framesOfAudio,
  framesOfEvents,
  HOP_SECONDS,
  inKey,
  type Frames,
} from './features'
import { around, everywhere, warp, type Warp } from './warp'

/**
 * Where moments of a score are heard in a recording: pairs of ms in the performance and seconds in the recording, in
 * order.
 */
export interface RecordingAlignment {
  points: [scoreMs: number, seconds: number][]
  /** How much better the two go together than the same music in other keys would: a share; about 0 is other music. */
  better: number
}

/** The first pass uses means of this many frames; the second stays within this many seconds of it. */
const COARSE = { many: 8, reachSeconds: 2.5 }
/** Slower or faster than this, against the score's own tempo, a recording is not looked for. */
const STRETCHES = [1, 0.8, 1.25] as const
/**
 * The same music in other keys is what chance would give: a recording of the song goes with it better than that, by at
 * least this share (measured: docs/how-it-works.md).
 */
const BETTER_THAN_CHANCE = 0.12
const OTHER_KEYS = [1, 2, 3, 6, 8, 11] as const

/**
 * Finds where each moment of a performance (as the score has it) is heard in a recording of the same music, whatever
 * its tempo and instruments: chroma of both, warped onto each other, first coarsely, then within the frames about it.
 * `wave`: mono samples at `sampleRate`. Undefined where it is not this music.
 */
export function alignRecording(
  wave: Float32Array,
  sampleRate: number,
  { events, lengthMs }: RenderedScore,
): RecordingAlignment | undefined {
  const audio = framesOfAudio(downsampled(wave, sampleRate))
  if (audio.count < 2 * COARSE.many || events.length === 0) return undefined
  const coarseAudio = coarser(audio, COARSE.many)
  const pitched = events.filter(({ voice }) => voice !== 'drums' && voice !== 'click')
  // The whole of it, or as it is written: whichever goes better.
  const fitting = (audio.count * HOP_SECONDS * 1000) / lengthMs
  const looks = [...STRETCHES, ...(fitting > 0.4 && fitting < 2.5 ? [fitting] : [])].map(stretch => {
    const score = framesOfEvents(pitched, lengthMs, stretch)
    const coarse = coarser(score, COARSE.many)
    return { stretch, score, coarse: warp(coarse, coarseAudio, everywhere(coarse.count, coarseAudio.count)) }
  })
  const { stretch, score, coarse } = looks.reduce((best, look) => (look.coarse.cost < best.coarse.cost ? look : best))
  const others = OTHER_KEYS.map(
    halfSteps =>
      warp(
        coarser(inKey(score, halfSteps), COARSE.many),
        coarseAudio,
        everywhere(Math.ceil(score.count / COARSE.many), coarseAudio.count),
      ).cost,
  )
  const better = 1 - coarse.cost / median(others)!
  if (!(better > BETTER_THAN_CHANCE)) return undefined
  const fine = warp(
    score,
    audio,
    around(coarse, COARSE.many, score.count, audio.count, COARSE.reachSeconds / HOP_SECONDS),
  )
  return fine.cost === Infinity ? undefined : { points: pointsOf(fine, score, stretch), better }
}

/** A frame stands for the middle of its window, s. */
const HALF_WINDOW = ANALYSIS.window / 2 / ANALYSIS.rate
/** A point every this many frames; linear in between. */
const POINT_FRAMES = 2

function pointsOf({ columns }: Warp, { count }: Frames, stretch: number): [number, number][] {
  return Array.from({ length: Math.ceil(count / POINT_FRAMES) }, (_, index) => index * POINT_FRAMES).map(row => [
    ((row * HOP_SECONDS + HALF_WINDOW) * 1000) / stretch,
    columns[row]! * HOP_SECONDS + HALF_WINDOW,
  ])
}

/**
 * When a moment of the score is heard, seconds; between two points straight, beyond them at the tempo of the nearest.
 */
export function secondsAt({ points }: Pick<RecordingAlignment, 'points'>, scoreMs: number): number {
  const after = Math.min(points.length - 1, Math.max(1, pointBy.left(points, scoreMs)))
  const [[fromMs, from], [toMs, to]] = [points[after - 1]!, points[after]!]
  return from + ((to - from) * (scoreMs - fromMs)) / Math.max(1e-9, toMs - fromMs)
}

const pointBy = bisector(([scoreMs]: RecordingAlignment['points'][number]) => scoreMs)
