import { SaxesParser } from 'saxes'
import { applyChange } from '#core/edit/change'
import { ScoreDocument } from '#core/formats/musicxml/document'
import { readMusicXml } from '#core/formats/musicxml/read'
import { writeMusicXml } from '#core/formats/musicxml/write'
import { fingerPart } from '#core/hands/part-fingering'
import { likenessOf } from '#core/parts/likeness'
import { proposeParts } from '#core/parts/propose'
import { barsPassage } from '#core/music/passage'
import { repeatedBars } from './long-score'
import { medianMs, report } from './report'

/**
 * How fast a long song is brought in and worked on. The reference is an XML parser on the same text, or copying the
 * same arrangement.
 */
export function workbench(): void {
  const bytes = repeatedBars(1000)
  const text = new TextDecoder().decode(bytes)
  const { arrangement } = readMusicXml(bytes)
  const parsing = medianMs(5, () => {
    new SaxesParser({ position: true }).write(text).close()
  })
  const copying = medianMs(9, () => structuredClone(arrangement))
  report(
    'read a 1,000-bar MusicXML file',
    'ms',
    medianMs(5, () => readMusicXml(bytes)),
    1500,
    'saxes parsing the same text',
    parsing,
  )
  report(
    'write it again',
    'ms',
    medianMs(3, () => writeMusicXml(arrangement)),
    3000,
    'saxes parsing the same text',
    parsing,
  )
  report(
    'split 1,000 bars and compare all parts, both hands',
    'ms',
    medianMs(5, () => {
      const parts = proposeParts(arrangement)
      likenessOf(arrangement, parts, 'right')
      likenessOf(arrangement, parts, 'left')
    }),
    500,
    'copying the arrangement',
    copying,
  )
  const right = barsPassage(arrangement, 1, 125, 'right').stretches[0]!
  const left = barsPassage(arrangement, 1, 125, 'left').stretches[0]!
  report(
    'find fingers for 1,000 notes in a line',
    'ms',
    medianMs(7, () => fingerPart(arrangement, right, 'right')),
    300,
    'copying the arrangement',
    copying,
  )
  report(
    'find fingers for 1,000 notes with chords',
    'ms',
    medianMs(7, () => fingerPart(arrangement, left, 'left')),
    300,
    'copying the arrangement',
    copying,
  )
  const id = arrangement.notes[arrangement.notes.length >> 1]!.id
  report(
    'correct a note in 1,000 bars (undoing is going back to the state before)',
    'ms',
    medianMs(9, () => applyChange(arrangement, { kind: 'pitch', ids: [id], halfSteps: 1 })),
    50,
    'copying the arrangement',
    copying,
  )
  report(
    'move every note of 1,000 bars to another key',
    'ms',
    medianMs(5, () => applyChange(arrangement, { kind: 'transpose', halfSteps: 2 })),
    200,
    'copying the arrangement',
    copying,
  )
  const base = readMusicXml(bytes)
  const document = new ScoreDocument(base)
  const corrected = applyChange(base.arrangement, { kind: 'pitch', ids: [id], halfSteps: 1 })
  report(
    'take a document of 1,000 bars apart',
    'ms',
    medianMs(5, () => new ScoreDocument(base)),
    1500,
    'saxes parsing the same text',
    parsing,
  )
  report(
    'write the bars that are seen (6 of 1,000) after a correction',
    'ms',
    medianMs(9, () => document.bars(corrected, 500, 505)),
    50,
    'copying the arrangement',
    copying,
  )
  report(
    'save a correction in 1,000 bars',
    'ms',
    medianMs(5, () => document.revised(corrected)),
    1000,
    'saxes parsing the same text',
    parsing,
  )
}
