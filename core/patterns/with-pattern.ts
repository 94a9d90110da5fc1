import { Note as NoteName } from 'tonal'
import type { HandNote } from '../music/arrange'
import { arrangementEnd, barAt, type Arrangement, type Hand, type Note } from '../music/arrangement'
import type { Meter } from '../music/meter'
import { freshIds, inOrder } from '../music/note-list'
import type { ScoreSpan } from '../music/passage'
import { spellInKey, type MidiPitch } from '../music/pitch'
import { add, compare, equal, subtract, ZERO } from '../music/quarters'
import type { Harmony } from '../music/song-harmony'
import { spelledAs } from '../music/transpose'
import { canPlayIn, metersOfHand, type HandPattern } from './hand-pattern'
import { patternHarmony } from './pattern-harmony'
import { playPattern } from './play-pattern'
import { harmonyIndexAt } from './placed'

/** What is exchanged: one hand's notes, in all of a song or a stretch of it. */
export interface Exchange {
  readonly pattern: HandPattern
  readonly hand: Hand
  readonly stretch?: ScoreSpan
  readonly reach?: number
}

/** A pattern cannot be played there; the message says why. */
export class NoPattern extends RangeError {
  override readonly name = 'NoPattern'
}

/** Throws NoPattern where a pattern has no form for a meter. */
export function checkMeter(pattern: HandPattern, meter: Meter): void {
  if (!canPlayIn(pattern, meter))
    throw new NoPattern(
      `the pattern "${pattern.name}" is for ${metersOfHand(pattern).join(', ') || 'other meters'}, and the music is in ${meter.beats}/${meter.beatType}`,
    )
}

/**
 * A song with one hand's notes exchanged for a pattern over its own chords: its symbols, or what sounds in it. What the
 * other hand, other roles and the page say stays. Throws NoPattern where the pattern has no form for the song's meter,
 * or no chord is known there.
 */
export function withPattern(arrangement: Arrangement, exchange: Exchange): Arrangement {
  const { pattern, hand, stretch, reach } = exchange
  const whole = stretch ?? { from: ZERO, to: arrangementEnd(arrangement) }
  const { meter } =
    arrangement.bars.find(bar => bar.index >= barAt(arrangement, whole.from).index && equal(bar.offset, ZERO)) ??
    arrangement.bars[0]!
  checkMeter(pattern, meter)
  const harmonies = patternHarmony(arrangement)
  const played = playPattern(arrangement, { pattern, hand, harmonies, stretch: whole, reach })
  if (played.length === 0)
    throw new NoPattern(
      harmonies.length === 0
        ? 'no chord is known there: a chart or chord symbols were expected'
        : 'the pattern leaves nothing to play there',
    )
  return withHand(arrangement, hand, whole, played, harmonies)
}

/**
 * A song with other notes for a hand in a stretch; notes are spelled as the chord they belong to, else by the key.
 * Words and slurs that hung on notes that are gone go with them. `before`: the song whose ids are taken already, where
 * that is not this one.
 */
export function withHand(
  arrangement: Arrangement,
  hand: Hand,
  { from, to }: ScoreSpan,
  played: readonly HandNote[],
  harmonies: readonly Harmony[],
  before: Pick<Arrangement, 'notes' | 'others'> = arrangement,
): Arrangement {
  const gone = new Set(
    arrangement.notes
      .filter(note => note.hand === hand && compare(note.onset, from) >= 0 && compare(note.onset, to) < 0)
      .map(note => note.id),
  )
  // What sounds on into the stretch ends where it begins.
  const kept = arrangement.notes
    .filter(note => !gone.has(note.id))
    .map(note =>
      note.hand === hand && compare(note.onset, from) < 0 && compare(add(note.onset, note.duration), from) > 0
        ? { ...note, duration: subtract(from, note.onset), tiedIds: [], tiedAt: undefined }
        : note,
    )
  const nextId = freshIds(before)
  const fresh = played.map(({ onset, end, pitch, grace }): Note => {
    const { index: barIndex, fifths } = barAt(arrangement, onset)
    return {
      id: nextId(),
      hand,
      barIndex,
      onset,
      duration: subtract(end, onset),
      pitch,
      spelled: grace
        ? spellInKey(pitch, fifths)
        : spelledBy(harmonies[harmonyIndexAt(harmonies, onset)], pitch, fifths),
      voice: hand === 'right' ? '1' : '5',
      tiedIds: [],
      ...(grace ? { grace } : {}),
    }
  })
  return {
    ...arrangement,
    notes: [...kept, ...fresh].sort(inOrder),
    lyrics: arrangement.lyrics.filter(lyric => !gone.has(lyric.noteId)),
    ...(arrangement.slurs
      ? { slurs: arrangement.slurs.filter(slur => !gone.has(slur.from) && !gone.has(slur.to)) }
      : {}),
  }
}

/** A pitch as the chord spells it: the third of E7 is G♯ also in a key of flats. */
export function spelledBy(
  chord: Pick<Harmony, 'notes' | 'bass'> | undefined,
  pitch: MidiPitch,
  fifths: number,
): string {
  const name = chord && [...chord.notes, chord.bass].find(one => NoteName.chroma(one) === pitch % 12)
  return name ? spelledAs(name, pitch) : spellInKey(pitch, fifths)
}
