import { Note } from 'tonal'
import { voiceChords } from '../../hands/voicing'
import type { Arrangement, ChordSymbol, Lyric, Rehearsal } from '../../music/arrangement'
import { barLength, beatLength, type Meter } from '../../music/meter'
import { add, multiply, quarters, toDecimal, ZERO, type Quarters } from '../../music/quarters'
import { arrange, type HandNote } from '../../music/arrange'
import { keyOf } from '../../music/key'
import type { Guess } from '../../music/guess'
import type { NotationChoices } from '../../notate/notate'
import type { Chart } from './chart'

export interface ChartChoices extends NotationChoices {
  /** Bars to a chord, where the chart itself has no bars: 1, or 1/2 for two chords a bar. */
  barsPerChord?: number
}

/** The lowest bass note of the left hand: between here and an octave above. */
const BASS_FROM = 36

/** The tempo of a chart that gives none, quarter notes a minute (own choice). */
const TEMPO_TAKEN = 90

/**
 * The chart as an arrangement to practise: the left hand holds each bass, the right hand the chord above it, in the inversions that
 * lead from one to the next with the least movement.
 */
export function arrangeChart(chart: Chart, fallbackTitle: string, choices: ChartChoices = {}): { arrangement: Arrangement, guesses: Guess[] } {
  const guesses: Guess[] = []
  const meter: Meter = choices.meter ?? chart.meter
  const barQuarters = barLength(meter)
  const perBar = chart.hasBars ? 1 : Math.max(1, Math.round(1 / (choices.barsPerChord ?? 1)))
  if (!chart.hasBars) guesses.push({ about: 'bars', kind: 'chord-lengths', chordsPerBar: perBar })
  guesses.push({ about: 'notes', kind: 'voiced' })

  const events: { onset: Quarters, chord: NonNullable<Chart['sections'][number]['bars'][number]['chords'][number]['chord']> | undefined, words?: string }[] = []
  const rehearsals: Rehearsal[] = []
  const sectionEnds: Quarters[] = []
  let bar = ZERO
  for (const section of chart.sections) {
    if (section.name) rehearsals.push({ onset: bar, name: section.name })
    section.bars.forEach(({ chords }, index) => {
      const share = quarters(index % perBar, perBar)
      for (const { beat, chord, words } of chords) {
        const within = chart.hasBars ? multiply(beatLength(meter), quarters(Math.round(beat * 48), 48)) : multiply(barQuarters, share)
        events.push({ onset: add(bar, within), chord, words })
      }
      if (perBar === 1 || index % perBar === perBar - 1 || index === section.bars.length - 1) bar = add(bar, barQuarters)
    })
    sectionEnds.push(bar)
  }
  const pitched = events.filter(event => event.chord !== undefined)
  const voicings = voiceChords(pitched.map(({ chord }) => chord!.notes))
  const notes: HandNote[] = []
  const chordSymbols: ChordSymbol[] = []
  let sounding = 0
  events.forEach((event, index) => {
    if (!event.chord) return
    const end = events[index + 1]?.onset ?? bar
    const bass = BASS_FROM + ((Note.chroma(event.chord.bass)! - BASS_FROM) % 12 + 12) % 12
    notes.push({ hand: 'left', onset: event.onset, end, pitch: bass })
    for (const pitch of voicings[sounding++]!) notes.push({ hand: 'right', onset: event.onset, end, pitch })
    chordSymbols.push({ onset: event.onset, ...event.chord })
  })
  const fifths = choices.fifths ?? chart.fifths ?? keyOf(notes.map(({ pitch, onset }) => ({ pitch, onset: toDecimal(onset), length: 1 })))?.fifths ?? 0
  if (choices.fifths === undefined && chart.fifths === undefined) guesses.push({ about: 'key', kind: 'key-found', from: 'chords' })
  const bpm = choices.bpm ?? chart.tempoBpm
  if (bpm === undefined) guesses.push({ about: 'tempo', kind: 'tempo-taken', bpm: TEMPO_TAKEN })
  const arrangement = arrange({
    title: chart.title || fallbackTitle, composer: chart.composer, meters: [{ at: ZERO, meter }], fifths, pickup: ZERO, tempos: [{ onset: ZERO, quarterBpm: bpm ?? TEMPO_TAKEN }],
    chords: chordSymbols, rehearsals, sectionEnds, end: bar,
  }, notes)
  const topOf = new Map(arrangement.notes.filter(note => note.hand === 'right').map(note => [`${note.onset.n}/${note.onset.d}`, note]))
  arrangement.lyrics = events.flatMap((event): Lyric[] => {
    const top = event.words ? topOf.get(`${event.onset.n}/${event.onset.d}`) : undefined
    return top ? [{ noteId: top.id, onset: event.onset, verse: '1', text: event.words!, hyphen: false }] : []
  })
  return { arrangement: spelledByChords(arrangement), guesses }
}

/** Notes of a chord are spelled as the chord is: the third of E7 is G♯ also in a key of flats. */
function spelledByChords(arrangement: Arrangement): Arrangement {
  let index = 0
  return {
    ...arrangement,
    notes: arrangement.notes.map((note) => {
      while (index + 1 < arrangement.chords.length && arrangement.chords[index + 1]!.onset.n / arrangement.chords[index + 1]!.onset.d <= note.onset.n / note.onset.d) index++
      const chord = arrangement.chords[index]
      const name = [...chord?.notes ?? [], ...(chord ? [chord.bass] : [])].find(one => Note.chroma(one) === note.pitch % 12)
      if (!name) return note
      const octave = Math.floor((note.pitch - (Note.get(name).alt ?? 0)) / 12) - 1
      return { ...note, spelled: `${name}${octave}` }
    }),
  }
}
