import { SaxesParser } from 'saxes'
import { assessTake } from '#core/ear/assess'
import { createLiveEar } from '#core/ear/live'
import type { TakeNote } from '#core/ear/take'
import { readMusicXml } from '#core/formats/musicxml/read'
import { barsPassage, expectedNotes, type ExpectedNote } from '#core/music/passage'
import { simulatePlayer, STEADY_HANDS } from '#core/players/simulate'
import { parseCommand } from '../usage'

const SEED = 1
const BPM = 90

/** Prints a line for each measurement: the median of its runs, what it must reach, and its ratio to a named reference in the same run. */
export function bench(args: string[]): void {
  parseCommand(args, [], [])
  const text = hundredBars()
  const bytes = new TextEncoder().encode(text)
  const { arrangement } = readMusicXml(bytes)
  report('read a 100-bar MusicXML file', 'ms', medianMs(15, () => readMusicXml(bytes)), 200,
    'saxes parsing the same text', medianMs(15, () => { new SaxesParser({ position: true }).write(text).close() }))

  const passage = barsPassage(arrangement, 1, 13, 'both')
  const expected = expectedNotes(arrangement, passage, BPM).slice(0, 200)
  const { take } = simulatePlayer(expected, { ...STEADY_HANDS, jitterMs: 35, wrong: 0.05, missed: 0.04, extra: 0.03 }, SEED)
  report(`score a pass of ${expected.length} notes`, 'ms', medianMs(60, () => assessTake({ arrangement, passage, take, mode: 'steady', bpm: BPM })), 5,
    'generic dynamic time warping of the same notes', medianMs(60, () => timeWarping(expected, take.notes)))

  const rounds = 200
  const perNote: number[] = []
  const ear = createLiveEar()
  for (let round = 0; round < rounds; round++) {
    const startMs = round * 60_000
    ear.addRound({ round, startMs, expected, beatMs: 60_000 / BPM })
    for (const note of take.notes) {
      const began = performance.now()
      ear.hear(note.pitch, startMs + note.onsetMs)
      perNote.push(performance.now() - began)
    }
  }
  const quarter = Math.floor(perNote.length / 4)
  report(`decide on a note live, p99 of ${perNote.length}`, 'ms', percentile(perNote, 0.99), 1,
    'the same in the first quarter of the session', percentile(perNote.slice(0, quarter), 0.99))
}

function report(what: string, unit: string, value: number, target: number, reference: string, referenceValue: number) {
  const ratio = referenceValue > 0 ? (value / referenceValue).toFixed(2) : '-'
  process.stdout.write(`${what}: ${value.toFixed(3)} ${unit} (to reach: under ${target} ${unit}; ${value < target ? 'reached' : 'NOT reached'}); ${ratio} times ${reference} (${referenceValue.toFixed(3)} ${unit})\n`)
}

function medianMs(runs: number, work: () => unknown): number {
  for (let warm = 0; warm < 3; warm++) work()
  return percentile(Array.from({ length: runs }, () => {
    const began = performance.now()
    work()
    return performance.now() - began
  }), 0.5)
}

const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))]!

/** The textbook alignment by onset and pitch, without any knowledge of music. */
function timeWarping(expected: readonly ExpectedNote[], played: readonly TakeNote[]): number {
  const width = played.length + 1
  const cost = new Float64Array((expected.length + 1) * width).fill(Infinity)
  cost[0] = 0
  for (let row = 1; row <= expected.length; row++) {
    for (let column = 1; column <= played.length; column++) {
      const note = expected[row - 1]!
      const stroke = played[column - 1]!
      const distance = Math.abs(note.onsetMs - stroke.onsetMs) / 1000 + Math.abs(note.pitch - stroke.pitch) / 12
      const here = row * width + column
      cost[here] = distance + Math.min(cost[here - 1]!, cost[here - width]!, cost[here - width - 1]!)
    }
  }
  return cost.at(-1)!
}

/** 100 bars of eighths in the right hand over quarters and chords in the left, as a score program would write them. */
function hundredBars(): string {
  const scale: [string, number][] = [['C', 5], ['D', 5], ['E', 5], ['F', 5], ['G', 5], ['F', 5], ['E', 5], ['D', 5]]
  const note = (step: string, octave: number, duration: number, type: string, staff: number, chord = false) =>
    `<note>${chord ? '<chord/>' : ''}<pitch><step>${step}</step><octave>${octave}</octave></pitch><duration>${duration}</duration><voice>${staff}</voice><type>${type}</type><stem>up</stem><staff>${staff}</staff></note>\n`
  const bars = Array.from({ length: 100 }, (_, bar) => `<measure number="${bar + 1}">${bar === 0 ? '<attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><staves>2</staves></attributes>' : ''}
<harmony><root><root-step>C</root-step></root><kind>major</kind></harmony>
${scale.map(([step, octave]) => note(step, octave, 1, 'eighth', 1)).join('')}<backup><duration>8</duration></backup>
${[0, 1, 2, 3].map(beat => note('C', 3, 2, 'quarter', 2) + (beat % 2 ? note('E', 3, 2, 'quarter', 2, true) + note('G', 3, 2, 'quarter', 2, true) : '')).join('')}</measure>`)
  return `<?xml version="1.0"?><score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Piano</part-name></score-part></part-list><part id="P1">${bars.join('\n')}</part></score-partwise>`
}
