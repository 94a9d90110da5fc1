/** The corrections that the core knows are the ones that the route takes, and nothing else. */
import { describe, expect, it } from 'vitest'
import type { Change } from '#core/edit/change'
import { changeSchema, choicesSchema, quartersSchema } from './score-schemas'

const at = { n: 3, d: 2 }
/** One of each kind: the type makes sure that none is forgotten. */
const EACH: { [Kind in Change['kind']]: Extract<Change, { kind: Kind }> } = {
  pitch: { kind: 'pitch', ids: ['n1', 'n2'], halfSteps: -1 },
  spelling: { kind: 'spelling', id: 'n1', spelled: 'Eb4' },
  length: { kind: 'length', id: 'n1', duration: at },
  hand: { kind: 'hand', ids: ['n1'], hand: 'left' },
  join: { kind: 'join', ids: ['n1', 'n2'] },
  divide: { kind: 'divide', id: 'n1', at },
  delete: { kind: 'delete', ids: ['n1'] },
  insert: { kind: 'insert', hand: 'right', onset: at, duration: at, pitches: [60, 64] },
  finger: { kind: 'finger', id: 'n1', finger: null },
  fingers: { kind: 'fingers', fingers: [{ id: 'n1', finger: 5 }] },
  transpose: { kind: 'transpose', halfSteps: 3 },
  tempo: { kind: 'tempo', onset: at, quarterBpm: 72.5 },
  swing: { kind: 'swing', onset: at, ratio: null },
  chord: { kind: 'chord', onset: at, symbol: 'Am7/G' },
  lyric: { kind: 'lyric', id: 'n1', text: 'la', hyphen: true },
  dynamic: { kind: 'dynamic', onset: at, mark: 'mf', hand: 'right' },
  pedal: { kind: 'pedal', onset: at, mark: 'change' },
  append: { kind: 'append', notes: [{ hand: 'left', onset: { n: 0, d: 1 }, duration: at, pitch: 48 }] },
}
const reason = (value: unknown) => changeSchema.validate(value, { convert: false }).error?.message

describe('a correction that is sent', () => {
  it.each(Object.values(EACH))('$kind is taken', change => expect(reason(change)).toBeUndefined())
  it.each(Object.values(EACH))(
    '$kind is refused with a field more, a field less, or a field of another type',
    change => {
      expect(reason({ ...change, more: 1 })).toContain('not allowed')
      for (const field of Object.keys(change).filter(
        one => one !== 'kind' && !(change.kind === 'dynamic' && one === 'hand'),
      )) {
        const { [field as 'kind']: _gone, ...rest } = change
        expect(reason(rest), `without ${field}`).toBeDefined()
        expect(reason({ ...change, [field]: { unlike: true } }), `another ${field}`).toBeDefined()
      }
    },
  )
  it.each([
    [{ kind: 'nothing' }],
    [{}],
    ['pitch'],
    [{ ...EACH.finger, finger: 6 }],
    [{ ...EACH.chord, symbol: 'x'.repeat(41) }],
    [{ ...EACH.length, duration: { n: 1, d: 0 } }],
    [{ ...EACH.insert, pitches: [200] }],
    [{ ...EACH.transpose, halfSteps: 40 }],
    [{ ...EACH.spelling, spelled: 'H4' }],
    [{ ...EACH.join, ids: ['n1'] }],
  ])('%j is refused', value => expect(reason(value)).toBeDefined())
})

describe('what the player decides about a song', () => {
  const choice = (value: unknown) => choicesSchema.validate(value, { convert: false }).error?.message
  it('is taken as the preview sends it', () => {
    expect(choice({})).toBeUndefined()
    expect(
      choice({
        title: 'A',
        composer: '',
        swapHands: true,
        voices: { 1: 'right', 12: 'role', 3: 'nobody' },
        meter: { beats: 6, beatType: 8 },
        fifths: -3,
        pickupQuarters: 0.5,
        swing: false,
        bpm: 88,
        barsPerChord: 0.5,
      }),
    ).toBeUndefined()
  })
  it.each([
    [{ fifths: 8 }],
    [{ meter: { beats: 4, beatType: 3 } }],
    [{ voices: { x: 'right' } }],
    [{ voices: { 1: 'other' } }],
    [{ bpm: 0 }],
    [{ title: '' }],
    [{ other: 1 }],
  ])('%j is refused', value => expect(choice(value)).toBeDefined())
})

it('a moment is a fraction with a positive denominator', () => {
  const isMoment = (value: unknown) => quartersSchema.validate(value, { convert: false }).error === undefined
  expect([
    isMoment({ n: -1, d: 2 }),
    isMoment({ n: 1, d: -2 }),
    isMoment({ n: 1.5, d: 2 }),
    isMoment({ n: 1 }),
    isMoment(1),
  ]).toEqual([true, false, false, false, false])
})
