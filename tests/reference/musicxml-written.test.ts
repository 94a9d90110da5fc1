/**
 * What is written as MusicXML, read back by our reader and by verovio (LGPL, from the npm registry), an independent
 * reader of the format.
 */
import { execFileSync } from 'node:child_process'
import fc from 'fast-check'
import { describe, expect, it } from 'vitest'
import { drillOf, editionOf, withHandExchanged } from '#core/formats/arranged'
import { readMusicXml } from '#core/formats/musicxml/read'
import { writeMusicXml } from '#core/formats/musicxml/write'
import type { Arrangement } from '#core/music/arrangement'
import { toDecimal } from '#core/music/quarters'
import { READY_DRILLS } from '#core/patterns/drills/bank'
import { LEVELS } from '#core/patterns/editions'
import { handPatternNamed } from '#core/patterns/hand-patterns'
import { DEMO_FILES, demoScore } from '../material/demo'
import { engraverReading } from '../material/engraver'
import { anyArrangement, essence } from '../material/random-arrangement'
import { attributes, backup, bytesOf, note, pianoScore, quarterNotes } from '../material/score'

/** verovio's noteheads, tied ones joined by the ids our writer gave them. */
async function asEngraved({ arrangement, musicXml }: { arrangement: Arrangement; musicXml: string }) {
  const heads = new Map((await engraverReading(musicXml, { unfold: false })).map(head => [head.id, head]))
  const played = arrangement.notes.filter(one => !one.grace)
  expect(heads.size).toBe(played.reduce((sum, one) => sum + 1 + one.tiedIds.length, 0))
  return played.map(one => {
    const chain = [one.id, ...one.tiedIds].map(id => heads.get(id)!)
    return {
      pitch: chain[0]!.pitch,
      onset: chain[0]!.onsetQuarter,
      duration: chain.reduce((sum, head) => sum + head.durationQuarter, 0),
    }
  })
}

/** A demo song without its grace notes, which the engraver places otherwise. */
function graceless(file: string) {
  const { arrangement } = demoScore(file)
  return writeMusicXml({ ...arrangement, notes: arrangement.notes.filter(one => !one.grace) })
}

const decimal = (arrangement: Arrangement) =>
  arrangement.notes
    .filter(one => !one.grace)
    .map(one => ({ pitch: one.pitch, onset: toDecimal(one.onset), duration: toDecimal(one.duration) }))

function expectClose(theirs: ReturnType<typeof decimal>, mine: ReturnType<typeof decimal>) {
  expect(theirs.map(one => one.pitch)).toEqual(mine.map(one => one.pitch))
  mine.forEach((one, index) => {
    expect(theirs[index]!.onset).toBeCloseTo(one.onset, 2)
    expect(theirs[index]!.duration).toBeCloseTo(one.duration, 2)
  })
}

describe('a written score', () => {
  it.each(DEMO_FILES)('%s comes back whole: notes with ids and fingers, marks, chords, words, bars and form', file => {
    const { arrangement } = demoScore(file)
    const written = writeMusicXml(arrangement)
    const again = readMusicXml(bytesOf(written.musicXml)).arrangement
    const plain = (one: Arrangement) => ({
      ...one,
      notes: one.notes.map(({ voice: _voice, tiedIds: _ids, ...rest }) => rest),
    })
    expect(plain(again)).toEqual(plain(arrangement))
    expect(again.notes.map(one => one.tiedIds)).toEqual(written.arrangement.notes.map(one => one.tiedIds))
  })

  it.each(DEMO_FILES)('%s is engraved note by note as it was', async file => {
    const written = graceless(file)
    expectClose(await asEngraved(written), decimal(written.arrangement))
  })

  it('is well-formed for xmllint (Debian)', () => {
    const { musicXml } = writeMusicXml(demoScore(DEMO_FILES[0]!).arrangement)
    expect(execFileSync('xmllint', ['--noout', '-'], { input: musicXml }).length).toBe(0)
  })

  it.each(
    ['lantern-ferry.musicxml', 'snow-on-the-towpath.musicxml'].flatMap(file =>
      ['root-fifth', 'bass-then-upper', 'broken'].map(pattern => [file, pattern] as const),
    ),
  )('%s with the left hand "%s" is engraved note by note', async (file, pattern) => {
    const made = withHandExchanged(graceless(file), { pattern: handPatternNamed(pattern)!, hand: 'left' })
    expectClose(await asEngraved(made), decimal(made.arrangement))
  })

  it.each(LEVELS)('an edition at level %i is engraved note by note', async level => {
    const made = editionOf(graceless('snow-on-the-towpath.musicxml'), level)
    expectClose(await asEngraved(made), decimal(made.arrangement))
  })

  it.each(READY_DRILLS.map(({ name, recipe }) => [name, recipe] as const))(
    'the drill "%s" is engraved note by note',
    async (name, recipe) => {
      const made = drillOf({ title: name, ...recipe, keys: { order: 'list', list: ['Eb', 'B'] } })
      expectClose(await asEngraved(made), decimal(made.arrangement))
    },
  )

  it('loses and moves no note of any arrangement: tuplets, ties, voices, five meters, twelve keys', () => {
    fc.assert(
      fc.property(anyArrangement, arrangement => {
        const again = readMusicXml(bytesOf(writeMusicXml(withANote(arrangement)).musicXml)).arrangement
        expect(essence(again.notes)).toEqual(essence(withANote(arrangement).notes))
        expect(again.notes.map(one => one.id).sort()).toEqual(
          withANote(arrangement)
            .notes.map(one => one.id)
            .sort(),
        )
        expect(again.warnings).toEqual([])
      }),
      { numRuns: 400, seed: 4 },
    )
  })

  it('is read by verovio with every note of any arrangement at its moment', async () => {
    await fc.assert(
      fc.asyncProperty(anyArrangement, async arrangement => {
        const written = writeMusicXml(withANote(arrangement))
        expectClose(await asEngraved(written), decimal(written.arrangement))
      }),
      { numRuns: 60, seed: 5 },
    )
  })

  it('keeps repeats, endings, jumps, slurs, grace notes and octave-crossing clefs', () => {
    const score = pianoScore([
      attributes({ staves: 2 }) +
        '<direction><direction-type><segno/></direction-type><sound segno="segno"/></direction><barline location="left"><repeat direction="forward"/></barline>' +
        note({ pitch: 'B4', length: 0, type: 'eighth', staff: 1, before: '<grace slash="yes"/>' }) +
        note({ pitch: 'C5', length: 2, staff: 1, extra: '<notations><slur type="start"/></notations>' }) +
        note({ pitch: 'E5', length: 2, staff: 1, extra: '<notations><slur type="stop"/></notations>' }) +
        backup(4) +
        note({ pitch: 'C5', length: 4, staff: 2 }),
      '<barline location="left"><ending number="1" type="start"/></barline>' +
        quarterNotes('C5 D5 E5 F5', 1) +
        '<barline location="right"><ending number="1" type="stop"/><repeat direction="backward"/></barline>'.replace(
          '<ending number="1" type="stop"/>',
          '<bar-style>light-heavy</bar-style><ending number="1" type="stop"/>',
        ),
      '<barline location="left"><ending number="2" type="start"/></barline>' +
        quarterNotes('G5 F5 E5 D5', 1) +
        '<sound tocoda="coda"/><barline location="right"><ending number="2" type="discontinue"/></barline>',
      quarterNotes('C5 C5 C5 C5', 1) + '<sound dalsegno="segno"/>',
      '<direction><direction-type><coda/></direction-type></direction>' + note({ pitch: 'C5', length: 4, staff: 1 }),
    ])
    const { arrangement } = readMusicXml(bytesOf(score))
    expect(arrangement.order).toEqual([0, 1, 0, 2, 3, 0, 2, 4])
    const again = readMusicXml(bytesOf(writeMusicXml(arrangement).musicXml)).arrangement
    expect(again.order).toEqual(arrangement.order)
    expect(again.slurs).toEqual(arrangement.slurs)
    expect(again.slurs).toHaveLength(1)
    expect(again.notes.filter(one => one.grace)).toEqual(arrangement.notes.filter(one => one.grace))
    expect(again.bars).toEqual(arrangement.bars)
  })
})

/** An arrangement without a note is not a score. */
const withANote = (arrangement: Arrangement): Arrangement =>
  arrangement.notes.length > 0
    ? arrangement
    : {
        ...arrangement,
        notes: [
          {
            id: 'n1',
            hand: 'right',
            barIndex: 0,
            onset: { n: 0, d: 1 },
            duration: { n: 1, d: 2 },
            pitch: 72,
            spelled: 'C5',
            voice: '1',
            tiedIds: [],
          },
        ],
      }
