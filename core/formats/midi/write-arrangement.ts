import type { Arrangement, Hand } from '../../music/arrangement'
import { wholePassage } from '../../music/passage'
import { add, compare, multiply, quarters, subtract, toDecimal, ZERO, type Quarters } from '../../music/quarters'
import { asciiText } from './ascii-text'
import { writeTrackFile, type PlacedEvent } from './track-file'

/** Divisible by everything from 2 to 10 and by 16, so common tuplets fall on whole ticks. */
const TICKS_PER_QUARTER = 10_080
const WRITTEN_VELOCITY = 72

/**
 * The arrangement as a Standard MIDI File of type 1: tempo and meter, then a track for each hand, in playing
 * order with repeats unfolded. Grace notes take a thirty-second note before their main note.
 */
export function writeArrangementMidi(arrangement: Arrangement): Uint8Array {
  const tracks: Record<'tempo' | Hand, PlacedEvent[]> = { tempo: [], right: [], left: [] }
  const named = (text: string): PlacedEvent => ({
    tick: 0,
    order: 0,
    event: { deltaTime: 0, type: 'trackName', meta: true, text },
  })
  tracks.tempo.push(named(asciiText(arrangement.title)))
  tracks.right.push(named('Right hand'))
  tracks.left.push(named('Left hand'))
  let played = ZERO
  let meterSeen = ''
  let keySeen: number | undefined
  for (const stretch of wholePassage(arrangement, 'both').stretches) {
    const tickAt = (at: Quarters) => Math.round(toDecimal(add(played, subtract(at, stretch.from))) * TICKS_PER_QUARTER)
    const inStretch = (at: Quarters) => compare(at, stretch.from) >= 0 && compare(at, stretch.to) < 0
    const tempos = arrangement.tempos.filter(tempo => inStretch(tempo.onset))
    const before = arrangement.tempos.findLast(tempo => compare(tempo.onset, stretch.from) <= 0)
    for (const tempo of before && !tempos.includes(before) ? [{ ...before, onset: stretch.from }, ...tempos] : tempos) {
      tracks.tempo.push({
        tick: tickAt(tempo.onset),
        order: 1,
        event: {
          deltaTime: 0,
          type: 'setTempo',
          meta: true,
          microsecondsPerBeat: Math.round(60_000_000 / tempo.quarterBpm),
        },
      })
    }
    for (const bar of arrangement.bars.filter(one => inStretch(one.start))) {
      const { beats, beatType } = bar.meter
      if (meterSeen === `${beats}/${beatType}`) continue
      meterSeen = `${beats}/${beatType}`
      tracks.tempo.push({
        tick: tickAt(bar.start),
        order: 1,
        event: {
          deltaTime: 0,
          type: 'timeSignature',
          meta: true,
          numerator: beats,
          denominator: beatType,
          metronome: 24,
          thirtyseconds: 8,
        },
      })
    }
    for (const bar of arrangement.bars.filter(one => inStretch(one.start))) {
      if (bar.fifths === keySeen) continue
      keySeen = bar.fifths
      tracks.tempo.push({
        tick: tickAt(bar.start),
        order: 1,
        event: { deltaTime: 0, type: 'keySignature', meta: true, key: bar.fifths, scale: 0 },
      })
    }
    for (const note of arrangement.notes.filter(one => inStretch(one.onset))) {
      const graceLead = note.grace ? multiply(quarters(1, 8), quarters(note.grace.before)) : ZERO
      const on = Math.max(0, tickAt(subtract(note.onset, graceLead)))
      const off =
        on + Math.max(1, Math.round(toDecimal(note.grace ? quarters(1, 8) : note.duration) * TICKS_PER_QUARTER))
      const key = { deltaTime: 0, channel: note.hand === 'right' ? 0 : 1, noteNumber: note.pitch }
      tracks[note.hand].push(
        { tick: on, order: 3, event: { ...key, type: 'noteOn', velocity: WRITTEN_VELOCITY } },
        { tick: off, order: 2, event: { ...key, type: 'noteOff', velocity: 0 } },
      )
    }
    for (const pedal of arrangement.pedals.filter(one => inStretch(one.onset))) {
      const press = (value: number, order: number): PlacedEvent => ({
        tick: tickAt(pedal.onset),
        order,
        event: { deltaTime: 0, channel: 1, type: 'controller', controllerType: 64, value },
      })
      if (pedal.kind !== 'down') tracks.left.push(press(0, 1))
      if (pedal.kind !== 'up') tracks.left.push(press(127, 2))
    }
    played = add(played, subtract(stretch.to, stretch.from))
  }
  return writeTrackFile([tracks.tempo, tracks.right, tracks.left], TICKS_PER_QUARTER)
}
