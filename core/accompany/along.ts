import { group } from 'd3-array'
import type { Arrangement, Hand } from '../music/arrangement'
import type { Passage } from '../music/passage'
import { HIGHEST_KEY, LOWEST_KEY } from '../music/pitch'
import { compare, type Quarters } from '../music/quarters'
import { performSection } from '../patterns/rhythm-section'
import type { Style } from '../patterns/styles'
import { renderPassage } from '../sound/of-score'
import { inTime, together, type RenderedScore, type SoundEvent, type Voice } from '../sound/performance'

/**
 * What plays along with the player: hands as they are written or octaves higher, the tune, other roles (indices into
 * `others`), a rhythm section.
 */
export interface Along {
  hands: readonly Hand[]
  octaves?: number
  guide?: boolean
  roles?: readonly number[]
  band?: Style
}

export const GUIDE_VOICE: Voice = { id: 'guide', name: 'Tune', instrument: { kind: 'program', program: 53 } }
/** A guide is heard under what the player sings, MIDI velocity. */
const GUIDE_VELOCITY = 72
/** The share of the sung syllables that must lie on notes of a role for it to be the singer's. */
const SUNG_SHARE = 0.6

/**
 * What plays along with a passage, at a tempo in quarter notes a minute (without one the score's own). `ends`: where
 * parts end, for the rhythm section's fills. The octaves move the hands only as far as the piano goes.
 */
export function renderAccompaniment(
  arrangement: Arrangement,
  passage: Passage,
  { hands, octaves = 0, guide = false, roles = [], band }: Along,
  bpm?: number,
  ends: readonly Quarters[] = [],
): RenderedScore {
  const own = renderPassage(arrangement, passage, { hands, roles }, bpm)
  const isHand = (voice: string) => voice === 'right' || voice === 'left'
  const moved =
    octaves === 0
      ? own
      : {
          ...own,
          events: own.events.map(event =>
            isHand(event.voice) ? { ...event, pitch: ontoPiano(event.pitch + 12 * octaves) } : event,
          ),
        }
  return together([
    moved,
    ...(guide ? [renderTune(arrangement, passage, bpm)] : []),
    ...(band
      ? [performSection({ arrangement, passage, style: band, bpm, lastBars: lastBars(arrangement, ends) })]
      : []),
  ])
}

const ontoPiano = (pitch: number): number =>
  pitch < LOWEST_KEY
    ? pitch + 12 * Math.ceil((LOWEST_KEY - pitch) / 12)
    : pitch > HIGHEST_KEY
      ? pitch - 12 * Math.ceil((pitch - HIGHEST_KEY) / 12)
      : pitch

/** The bars, by index, in which parts end. */
export const lastBars = (arrangement: Arrangement, ends: readonly Quarters[]): ReadonlySet<number> =>
  new Set(ends.map(end => arrangement.bars.findLast(bar => compare(bar.start, end) < 0)?.index ?? 0))

/** The tune alone: of the role that has the words where there is one, otherwise the highest notes of the right hand. */
export function renderTune(arrangement: Arrangement, passage: Passage, bpm?: number): RenderedScore {
  const singer = singerOf(arrangement)
  const source = renderPassage(
    arrangement,
    passage,
    singer === undefined ? { hands: ['right'] } : { hands: [], roles: [singer] },
    bpm,
  )
  const events = topLine(source.events).map(event => ({ ...event, voice: GUIDE_VOICE.id, velocity: GUIDE_VELOCITY }))
  return { ...source, voices: [GUIDE_VOICE], events, pedals: [] }
}

/** The role whose notes carry the words; undefined where only the hands do. */
export function singerOf({ others, lyrics }: Arrangement): number | undefined {
  const shares = others.map(({ notes, silent, percussion }) => {
    const ids = new Set(silent || percussion ? [] : notes.map(({ id }) => id))
    return lyrics.filter(({ noteId }) => ids.has(noteId)).length / Math.max(1, lyrics.length)
  })
  const most = Math.max(0, ...shares)
  return most >= SUNG_SHARE ? shares.indexOf(most) : undefined
}

/** The highest of what begins at each moment, each until the next begins: one voice alone. */
function topLine(events: readonly SoundEvent[]): SoundEvent[] {
  const tops = [...group(events, ({ atMs }) => Math.round(atMs)).values()].map(chord =>
    chord.reduce((top, event) => (event.pitch > top.pitch ? event : top)),
  )
  return inTime(tops).map((event, index, all) => {
    const next = all[index + 1]
    return next ? { ...event, lengthMs: Math.min(event.lengthMs, Math.max(1, next.atMs - event.atMs)) } : event
  })
}
