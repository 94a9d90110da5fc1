import { SaxesParser } from 'saxes'
import { alignTake } from '#core/ear/align'
import { assessTake } from '#core/ear/assess'
import { createLiveEar } from '#core/ear/live'
import { DEFAULT_EAR } from '#core/ear/parameters'
import { readMusicXml } from '#core/formats/musicxml/read'
import { barsPassage, expectedNotes, wholePassage } from '#core/music/passage'
import { MACHINE, type PlayerHabits } from '#core/players/habits'
import { simulatePlayer } from '#core/players/simulate'
import { repeatedBars } from './long-score'
import { medianMs, percentile, report } from './report'
import { timeWarping } from './time-warping'

const SEED = 1
const BPM = 90
const BEAT_MS = 60_000 / BPM
export const BEGINNER: PlayerHabits = {
  ...MACHINE,
  jitterMs: 35,
  chordSpreadMs: 40,
  wrong: 0.05,
  missed: 0.04,
  extra: 0.03,
}

/** How fast: a line for each measurement. */
export function speed(): void {
  const bytes = repeatedBars(100)
  const text = new TextDecoder().decode(bytes)
  const { arrangement } = readMusicXml(bytes)
  report(
    'read a 100-bar MusicXML file',
    'ms',
    medianMs(15, () => readMusicXml(bytes)),
    200,
    'saxes parsing the same text',
    medianMs(15, () => {
      new SaxesParser({ position: true }).write(text).close()
    }),
  )

  const passage = barsPassage(arrangement, 1, 13, 'both')
  const expected = expectedNotes(arrangement, passage, BPM)
  const { take } = simulatePlayer(expected, BEGINNER, SEED)
  report(
    `score a pass of ${expected.length} notes`,
    'ms',
    medianMs(80, () => assessTake({ arrangement, passage, take, mode: 'steady', bpm: BPM })),
    5,
    'generic dynamic time warping of the same notes',
    medianMs(60, () => timeWarping(expected, take.notes)),
  )

  live(expected, take.notes)
  long()
}

function live(expected: ReturnType<typeof expectedNotes>, notes: readonly { onsetMs: number; pitch: number }[]) {
  const perNote: number[] = []
  const ear = createLiveEar()
  for (let round = 0; round < 100; round++) {
    const startMs = round * 60_000
    ear.addRound({ round, startMs, expected, beatMs: BEAT_MS })
    for (const note of notes) {
      const began = performance.now()
      ear.hear(note.pitch, startMs + note.onsetMs)
      perNote.push(performance.now() - began)
    }
  }
  const quarter = Math.floor(perNote.length / 4)
  report(
    `decide on a note live, p99 of ${perNote.length}`,
    'ms',
    percentile(perNote, 0.99),
    1,
    'the same in the last quarter of the session',
    percentile(perNote.slice(-quarter), 0.99),
  )
}

/** Twenty thousand notes against twenty thousand, and half as many. */
function long() {
  const whole = readMusicXml(repeatedBars(1250)).arrangement
  const [all, half] = [20_000, 10_000].map(count => {
    const bars = count / 16
    const passage = bars === 1250 ? wholePassage(whole, 'both') : barsPassage(whole, 1, bars, 'both')
    const expected = expectedNotes(whole, passage, BPM)
    const { take } = simulatePlayer(expected, BEGINNER, SEED)
    return {
      notes: expected.length,
      align: medianMs(5, () =>
        alignTake({ expected, played: take.notes, steady: true, beatMs: BEAT_MS, ear: DEFAULT_EAR }),
      ),
      assess: medianMs(3, () => assessTake({ arrangement: whole, passage, take, mode: 'steady', bpm: BPM })),
      free: medianMs(3, () => assessTake({ arrangement: whole, passage, take, mode: 'free' })),
    }
  }) as [LongTake, LongTake]
  report(`align ${all.notes} notes`, 'ms', all.align, 2000, `aligning ${half.notes}`, half.align)
  report(`assess ${all.notes} notes with a click`, 'ms', all.assess, 2000, `assessing ${half.notes}`, half.assess)
  report(`assess ${all.notes} notes without a click`, 'ms', all.free, 2000, `assessing ${half.notes}`, half.free)
}

interface LongTake {
  notes: number
  align: number
  assess: number
  free: number
}
