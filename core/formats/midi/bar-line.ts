import type { Arrangement } from '../../music/arrangement'
import { toDecimal } from '../../music/quarters'
import type { MidiChoices, PlayedRecording } from './read-arrangement'

/** How near a moment of the recording a place in the song must be, quarter notes. */
const NEAR = 0.02

/**
 * What has to be decided for a bar to begin at a note, `at` quarter notes from the song's beginning. On beats that are
 * heard in a recording the beats around are looked for anew with a bar line there; on the file's own or tapped beats
 * all bar lines move with it.
 */
export function withBarLine(
  { arrangement, played }: { arrangement: Arrangement; played?: PlayedRecording },
  choices: MidiChoices,
  at: number,
): MidiChoices {
  const first = arrangement.bars[1] ?? arrangement.bars[0]!
  const moment = played?.beats === 'heard' ? played.clock.find(one => Math.abs(one.quarter - at) < NEAR) : undefined
  if (moment) {
    const ms = Math.round(moment.ms)
    const { pickupQuarters: _pickup, ...others } = choices
    return {
      ...others,
      beats: 'heard',
      meter: first.meter,
      barLinesMs: [...new Set([...(choices.barLinesMs ?? []), ms])].sort((a, b) => a - b),
    }
  }
  const bar = (first.meter.beats * 4) / first.meter.beatType
  const begins = Math.min(...arrangement.notes.map(note => toDecimal(note.onset)))
  const pickup = (((at - begins) % bar) + bar) % bar
  return { ...choices, meter: first.meter, pickupQuarters: Math.round(pickup * 24) / 24 }
}
