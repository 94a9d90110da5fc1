import { positionIn, positionOf, type Arrangement } from '../music/arrangement'
import { keyAt } from '../music/key'
import { harmonyOf } from '../music/song-harmony'
import { withoutNotes, type VoiceNotes } from '../music/voice'
import { toDecimal, type Quarters } from '../music/quarters'
import { remarkText } from '../words/remarks'

const decimal = (at: Quarters): number => Math.round(toDecimal(at) * 1e6) / 1e6

/**
 * The arrangement as the documented JSON (docs/formats.md): positions as bar and beat and as decimal quarter
 * notes from the beginning, pitches as MIDI numbers.
 */
export function inspectArrangement(arrangement: Arrangement) {
  const place = (onset: Quarters) => {
    const { bar, beat } = positionOf(arrangement, onset)
    return { bar, beat: Math.round(beat * 1e6) / 1e6, onsetQuarter: decimal(onset) }
  }
  const noteDocument = (note: Omit<Arrangement['notes'][number], 'hand'> & { hand?: string }) => {
    const { bar, beat } = positionIn(arrangement.bars[note.barIndex]!, note.onset)
    return {
      id: note.id,
      ...(note.hand ? { hand: note.hand } : {}),
      bar,
      beat: Math.round(beat * 1e6) / 1e6,
      onsetQuarter: decimal(note.onset),
      durationQuarter: decimal(note.duration),
      pitch: note.pitch,
      spelled: note.spelled,
      voice: note.voice,
      ...(note.finger === undefined ? {} : { finger: note.finger }),
      ...(note.grace ? { grace: true } : {}),
      ...(note.tiedIds.length > 0 ? { tiedIds: note.tiedIds } : {}),
      ...(note.articulations ? { articulations: note.articulations } : {}),
      ...(note.ornaments ? { ornaments: note.ornaments } : {}),
    }
  }
  const perBar = <T extends object>(what: (bar: Arrangement['bars'][number]) => T) => {
    let last = ''
    return arrangement.bars.flatMap(bar => {
      const value = what(bar)
      const text = JSON.stringify(value)
      if (text === last) return []
      last = text
      return [{ bar: bar.number, onsetQuarter: decimal(bar.start), ...value }]
    })
  }
  return {
    format: arrangement.format,
    version: arrangement.version,
    title: arrangement.title,
    composer: arrangement.composer,
    bars: arrangement.bars.map(bar => ({
      number: bar.number,
      startQuarter: decimal(bar.start),
      lengthQuarter: decimal(bar.length),
      ...(bar.repeatStart ? { repeatStart: true } : {}),
      ...(bar.repeatEnd ? { repeatEnd: bar.repeatEnd } : {}),
      ...(bar.endings ? { endings: bar.endings } : {}),
    })),
    playingOrder: arrangement.order.map(index => arrangement.bars[index]!.number),
    meters: perBar(({ meter }) => ({ beats: meter.beats, beatType: meter.beatType })),
    keys: arrangement.bars.flatMap((bar, index) =>
      bar.fifths === arrangement.bars[index - 1]?.fifths
        ? []
        : [{ bar: bar.number, onsetQuarter: decimal(bar.start), ...keyDocument(arrangement, bar.start) }],
    ),
    tempos: arrangement.tempos.map(({ onset, quarterBpm }) => ({ ...place(onset), quarterBpm })),
    notes: arrangement.notes.map(noteDocument),
    others: arrangement.others
      .filter(role => !role.silent)
      .map(({ name, percussion, notes }) => ({
        name,
        ...(percussion ? { percussion } : {}),
        notes: notes.map(noteDocument),
      })),
    chords: arrangement.chords.map(({ onset, ...chord }) => ({ ...place(onset), ...chord })),
    harmony: harmonyOf(arrangement).map(({ onset, from, symbol, name, inversion, bass, roman, missing }) => ({
      ...place(onset),
      from,
      symbol,
      name,
      inversion,
      bass,
      roman,
      ...(missing.length > 0 ? { missing } : {}),
    })),
    pedals: arrangement.pedals.map(({ onset, kind }) => ({ ...place(onset), kind })),
    dynamics: arrangement.dynamics.map(({ onset, ...dynamic }) => ({ ...place(onset), ...dynamic })),
    swings: (arrangement.swings ?? []).map(({ onset, ...swing }) => ({ ...place(onset), ...swing })),
    tempoWords: (arrangement.tempoWords ?? []).map(({ onset, kind }) => ({ ...place(onset), kind })),
    rehearsals: arrangement.rehearsals.map(({ onset, name }) => ({ ...place(onset), name })),
    lyrics: arrangement.lyrics.map(({ onset, ...lyric }) => ({ ...place(onset), ...lyric })),
    warnings: arrangement.warnings.map(remarkText),
    unused: arrangement.warnings.filter(remark => typeof remark !== 'string'),
  }
}

/** A signature's key; what sounds under it says the mode. */
function keyDocument(arrangement: Arrangement, onset: Quarters) {
  const { fifths, tonic, isMinor } = keyAt(arrangement, onset)
  return { fifths, tonic, mode: isMinor ? 'minor' : 'major' }
}

/** A song as `inspect` prints it: the arrangement, and who plays which of its parts or tracks. */
export const inspectSong = ({ arrangement, voices }: { arrangement: Arrangement; voices: readonly VoiceNotes[] }) => ({
  ...inspectArrangement(arrangement),
  voices: voices.map(withoutNotes),
})
