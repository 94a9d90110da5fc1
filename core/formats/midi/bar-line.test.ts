/** A bar line put elsewhere: what is decided by it in files on their own beats and in recordings. Made-up music. */
import { describe, expect, it } from 'vitest'
import { bandFile, recordingFile } from '../../../tests/material/midi-tracks'
import { toDecimal } from '../../music/quarters'
import { withBarLine } from './bar-line'
import { readMidiArrangement, type MidiChoices } from './read-arrangement'

const read = (bytes: Uint8Array, choices?: MidiChoices) => readMidiArrangement(bytes, 'A file', choices)
const starts = ({ arrangement }: ReturnType<typeof read>) =>
  arrangement.bars.slice(0, 4).map(bar => toDecimal(bar.start))

describe('a bar line at another note', () => {
  it("on the file's own beats moves all of them with it", () => {
    const before = read(bandFile())
    const choices = withBarLine(before, {}, 5)
    expect(choices).toEqual({ meter: { beats: 4, beatType: 4 }, pickupQuarters: 1 })
    expect(starts(read(bandFile(), choices))).toEqual([0, 1, 5, 9])
    expect(withBarLine(before, {}, 8).pickupQuarters).toBe(0)
  })
  it('in a recording has the beats looked for anew with a bar there', () => {
    const before = read(recordingFile())
    expect(before.played!.beats).toBe('heard')
    const choices = withBarLine(before, { title: 'Kept' } as MidiChoices, 4)
    expect(choices).toMatchObject({ title: 'Kept', beats: 'heard', meter: { beats: 3, beatType: 4 } })
    const after = read(recordingFile(), choices)
    const moved = after.played!.clock.find(one => Math.abs(one.ms - choices.barLinesMs![0]!) < 1)!
    expect(after.arrangement.bars.some(bar => Math.abs(toDecimal(bar.start) - moved.quarter) < 0.02)).toBe(true)
  })
  it('keeps the bar lines that were moved before, each once', () => {
    const before = read(recordingFile())
    const [first] = withBarLine(before, {}, 4).barLinesMs!
    expect(withBarLine(before, { barLinesMs: [first!, 9_000] }, 4).barLinesMs).toEqual(
      [first, 9_000].sort((a, b) => a! - b!),
    )
  })
})

describe('a recording as it was played', () => {
  it('has each note with its ms, and the moments of the song', () => {
    const { played, arrangement } = read(recordingFile())
    expect(played!.notes).toHaveLength(12 * 9)
    expect(played!.notes.every((note, index) => index === 0 || note.onsetMs >= played!.notes[index - 1]!.onsetMs)).toBe(
      true,
    )
    expect(
      played!.clock.find(one => Math.abs(one.quarter - toDecimal(arrangement.notes.at(-1)!.onset)) < 0.02)!.ms,
    ).toBeGreaterThan(20_000)
  })
  it('is none where the notes lie exactly on note values', () => expect(read(bandFile()).played).toBeUndefined())
  it("can be written on the file's beats all the same", () =>
    expect(read(recordingFile(), { beats: 'file' }).played!.beats).toBe('file'))
})
