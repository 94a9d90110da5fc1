import { describe, expect, it } from 'vitest'
import { demoScore } from '../../tests/material/demo'
import { expectedNotes, spanPassage } from '../music/passage'
import { quarters } from '../music/quarters'
import { lastBars, renderAccompaniment, renderTune, singerOf } from './along'

const FERRY = demoScore('lantern-ferry.musicxml').arrangement
const PASSAGE = spanPassage(quarters(1), quarters(17), 'right')

describe('what plays along', () => {
  it('is the hand that the player does not play, note for note, or octaves away from it', () => {
    const written = expectedNotes(FERRY, { ...PASSAGE, hands: 'left' }, 80)
    const told = (octaves: number) =>
      renderAccompaniment(FERRY, PASSAGE, { hands: ['left'], octaves }, 80).events.map(
        ({ atMs, pitch }) => `${Math.round(atMs)} ${pitch}`,
      )
    expect(told(0)).toEqual(written.map(note => `${Math.round(note.onsetMs)} ${note.pitch}`))
    expect(told(1)).toEqual(written.map(note => `${Math.round(note.onsetMs)} ${note.pitch + 12}`))
  })

  it('is moved no further than the keyboard goes', () => {
    for (const { pitch } of renderAccompaniment(FERRY, PASSAGE, { hands: ['left'], octaves: -2 }, 80).events)
      expect(pitch).toBeGreaterThanOrEqual(21)
  })

  it('a rhythm section plays its fill in the bars where parts end, and leaves the hands to the player', () => {
    const plain = renderAccompaniment(FERRY, PASSAGE, { hands: [], band: 'ballad' }, 80)
    const filled = renderAccompaniment(FERRY, PASSAGE, { hands: [], band: 'ballad' }, 80, [quarters(17)])
    expect(new Set(plain.events.map(({ voice }) => voice))).toEqual(new Set(['drums', 'bass', 'chords']))
    const toms = ({ events }: typeof plain) =>
      events.filter(({ voice, pitch }) => voice === 'drums' && [45, 47, 50].includes(pitch)).length
    expect([toms(plain), toms(filled) > 0]).toEqual([0, true])
    expect([...lastBars(FERRY, [FERRY.bars[3]!.start])]).toEqual([2])
  })
})

describe('the tune to sing to', () => {
  it('is one voice: the highest of the right hand, each note until the next', () => {
    const { events, voices } = renderTune(FERRY, PASSAGE, 80)
    expect(voices.map(({ id }) => id)).toEqual(['guide'])
    const right = expectedNotes(FERRY, PASSAGE, 80).filter(note => !note.grace)
    for (const { atMs, pitch } of events) {
      const chord = right.filter(note => Math.abs(note.onsetMs - atMs) < 1).map(note => note.pitch)
      if (chord.length > 0) expect(pitch).toBe(Math.max(...chord))
    }
    events.forEach((event, index) => {
      if (events[index + 1]) expect(event.atMs + event.lengthMs).toBeLessThanOrEqual(events[index + 1]!.atMs + 1e-6)
    })
  })

  it('is the role that has the words, where there is one', () => {
    const voice = FERRY.notes.filter(note => note.hand === 'right').slice(0, 8)
    const sung = {
      ...FERRY,
      others: [
        { name: 'Oboe', notes: [] },
        { name: 'Voice', notes: voice.map(({ hand: _, ...note }) => ({ ...note, id: `sung ${note.id}`, pitch: 84 })) },
      ],
      lyrics: voice.map(({ id, onset }) => ({ noteId: `sung ${id}`, onset, verse: '1', text: 'la', hyphen: false })),
    }
    expect(singerOf(sung)).toBe(1)
    expect(singerOf({ ...sung, lyrics: [] })).toBeUndefined()
    expect(renderTune(sung, PASSAGE, 80).events.every(({ pitch }) => pitch === 84)).toBe(true)
  })
})
