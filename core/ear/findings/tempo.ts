import { barLength, beatBpm } from '../../music/meter'
import { toDecimal } from '../../music/quarters'
import { tempoAt } from '../../music/arrangement'
import type { BarStretch } from '../finding'
import { placeOf, type Heard } from '../heard'
import type { SectionHeard } from '../tempo-heard'
import { weigh, type WeightedFinding } from './weighed'

/** Findings about the tempo, and whether they already explain notes off the click or never reached. */
export interface TempoFound {
  weighed: WeightedFinding[]
  explainsDrift: boolean
  explainsOffset: boolean
}

/** Another tempo than asked, bars at another tempo than the rest, bars counted wrong, a late entry. */
export function tempoFindings(heard: Heard): TempoFound {
  const { whole, sections, entries } = heard.tempo.heard
  return {
    weighed: [...wholeFinding(heard), ...sectionFindings(heard), ...countingFindings(heard), ...entryFindings(heard)],
    explainsDrift: whole !== undefined || sections.length > 0,
    explainsOffset: whole !== undefined || entries.some(one => one.breakAt === undefined),
  }
}

/** Tolerance (log of the ratio) for half or double tempo. */
const NEARLY_HALF = Math.log(1.1)

function wholeFinding({ arrangement, passage, bpm, tempo }: Heard): WeightedFinding[] {
  const ratio = tempo.heard.whole
  if (ratio === undefined) return []
  const because =
    Math.abs(Math.log(2 * ratio)) < NEARLY_HALF
      ? 'half'
      : Math.abs(Math.log(ratio / 2)) < NEARLY_HALF
        ? 'double'
        : ratio < 1
          ? 'slower'
          : 'faster'
  const asked = bpm ?? tempoAt(arrangement, passage.stretches[0]!.from)
  const { meter } = arrangement.bars[tempo.course.played[0]?.barIndex ?? 0]!
  const two = (value: number) => Number(value.toFixed(2))
  return [
    {
      weight: 30,
      finding: {
        kind: 'wrong-tempo',
        ratio: two(ratio),
        percent: Math.round(100 * Math.abs(ratio - 1)),
        because,
        bpm: two(asked * ratio),
        askedBpm: two(asked),
        beatBpm: two(beatBpm(meter, asked * ratio)),
        askedBeatBpm: two(beatBpm(meter, asked)),
      },
    },
  ]
}

/** Segments nearer than this (log of the ratio) share one tempo. */
const SAME_TEMPO = Math.log(1.15)

function sectionFindings({ arrangement, tempo, steady }: Heard): WeightedFinding[] {
  const groups: SectionHeard[][] = []
  for (const section of tempo.heard.sections) {
    const group = groups.find(([first]) => Math.abs(Math.log(section.tempoRatio / first!.tempoRatio)) < SAME_TEMPO)
    if (group) group.push(section)
    else groups.push([section])
  }
  return groups.map((group): WeightedFinding => {
    const ratio = group.reduce((sum, one) => sum + one.tempoRatio, 0) / group.length
    const stretches = group.map(({ fromBarIndex, toBarIndex }): BarStretch => ({
      fromBar: arrangement.bars[fromBarIndex]!.number,
      toBar: arrangement.bars[toBarIndex]!.number,
    }))
    const meter = meterOfAll(arrangement.bars, group)
    const percent = Math.round(100 * Math.abs(ratio - 1))
    return {
      weight: weigh(14, percent / 12, 24),
      finding: {
        kind: 'section-tempo',
        ...stretches[0]!,
        percent,
        ratio: Number(ratio.toFixed(3)),
        stretches,
        count: stretches.length,
        ...(meter ? { meter } : {}),
        withClick: steady,
      },
    }
  })
}

/** The meter that exactly these bars have: the player takes one kind of beat for another. */
function meterOfAll(bars: Heard['arrangement']['bars'], group: readonly SectionHeard[]): string | undefined {
  const name = (index: number) => `${bars[index]!.meter.beats}/${bars[index]!.meter.beatType}`
  const inside = new Set(
    group.flatMap(({ fromBarIndex, toBarIndex }) =>
      Array.from({ length: toBarIndex - fromBarIndex + 1 }, (_, index) => fromBarIndex + index),
    ),
  )
  const names = new Set([...inside].map(name))
  if (names.size !== 1) return undefined
  const [only] = names
  return bars.some(bar => name(bar.index) !== only) &&
    bars.every(bar => (name(bar.index) === only) === inside.has(bar.index) || name(bar.index) === only)
    ? only
    : undefined
}

function countingFindings({ arrangement, tempo, notes }: Heard): WeightedFinding[] {
  return tempo.heard.counting.map(({ meter, counted, written, breaks }): WeightedFinding => {
    const { breaks: all, played } = tempo.course
    const places = breaks.map(index => {
      const { barIndex, event } = played[all[index]!.at - 1]!
      const note = notes.find(one => one.followed === event)
      return { bar: arrangement.bars[barIndex]!.number, beat: note ? placeOf(note.written).beat : 1 }
    })
    return {
      weight: 16 + Math.min(6, breaks.length),
      finding: {
        kind: 'counting',
        ...places[0]!,
        count: places.length,
        places,
        counted,
        written,
        beatType: meter.beatType,
      },
    }
  })
}

function entryFindings({ arrangement, tempo, notes }: Heard): WeightedFinding[] {
  return tempo.heard.entries.map(({ at, ms, beats, breakAt }): WeightedFinding => {
    const { barIndex, event } = tempo.course.played[at]!
    const bar = arrangement.bars[barIndex]!
    const note = notes.find(one => one.followed === event)!
    const beatsInBar =
      toDecimal(barLength(bar.meter)) /
      (bar.meter.beatType >= 8 && bar.meter.beats % 3 === 0 && bar.meter.beats > 3
        ? 12 / bar.meter.beatType
        : 4 / bar.meter.beatType)
    const bars =
      Math.abs(beats) >= beatsInBar && Math.abs(beats) % beatsInBar === 0 ? Math.abs(beats) / beatsInBar : null
    const { bar: number, beat } = placeOf(note.written)
    return {
      weight: 17,
      finding: {
        kind: 'late-entry',
        bar: number,
        beat,
        beats,
        bars,
        ms: Math.round(ms),
        atBeginning: breakAt === undefined,
      },
    }
  })
}
