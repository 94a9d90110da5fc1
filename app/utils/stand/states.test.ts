import { describe, expect, it } from 'vitest'
import { afterEvent, AT_REST, isPractising, type StandEvent, type StandState } from './states'

const through = (...events: StandEvent[]): StandState => events.reduce(afterEvent, AT_REST)
const START: StandEvent = { kind: 'start', mode: 'steady', hasKeyboard: true }
const OWN: StandEvent = { kind: 'start', mode: 'own-time', hasKeyboard: true }
const stop = (why: 'player' | 'done' | 'silence'): StandEvent => ({ kind: 'stop', rest: { why } })

describe('the states of the Stand', () => {
  it('counts in, plays, judges and plays on', () => {
    const events: StandEvent[] = [
      START,
      { kind: 'count-in' },
      { kind: 'music' },
      { kind: 'judged', isClean: true },
      { kind: 'read' },
    ]
    expect(events.map((_, place) => through(...events.slice(0, place + 1)).at)).toEqual([
      'starting',
      'count-in',
      'playing',
      'judged',
      'playing',
    ])
  })
  it('waits for the keys in own time, where there is no count-in', () => {
    const events: StandEvent[] = [OWN, { kind: 'waiting' }, { kind: 'judged', isClean: false }, { kind: 'read' }]
    expect(events.map((_, place) => through(...events.slice(0, place + 1)).at)).toEqual([
      'starting',
      'waiting',
      'judged',
      'waiting',
    ])
  })
  it('shows that something else comes until it is counted in or waited for', () => {
    const onward = [
      START,
      { kind: 'count-in' },
      { kind: 'music' },
      { kind: 'judged', isClean: true },
      { kind: 'moved', mode: 'steady' },
    ] as StandEvent[]
    expect(through(...onward).at).toBe('going-on')
    expect(through(...onward, { kind: 'read' }).at).toBe('going-on')
    expect(through(...onward, { kind: 'count-in' }, { kind: 'music' }).at).toBe('playing')
    expect(through(...onward, { kind: 'moved', mode: 'own-time' }, { kind: 'waiting' })).toEqual({
      at: 'waiting',
      mode: 'own-time',
    })
  })
  it('does not begin without a keyboard, and says so', () => {
    expect(through({ kind: 'start', mode: 'steady', hasKeyboard: false })).toEqual({
      at: 'resting',
      rest: { why: 'no-keyboard' },
    })
    expect(through({ kind: 'start', mode: 'steady', hasKeyboard: false }, START).at).toBe('starting')
  })
  it('stops when the keyboard is unplugged, and begins again when it is back', () => {
    const unplugged = through(START, { kind: 'count-in' }, { kind: 'music' }, { kind: 'unplugged', keyboard: 'Piano' })
    expect(unplugged).toEqual({ at: 'interrupted', mode: 'steady', keyboard: 'Piano' })
    expect(isPractising(unplugged)).toBe(false)
    // What the ear still had in hand changes nothing.
    expect(afterEvent(unplugged, { kind: 'judged', isClean: false })).toBe(unplugged)
    expect(afterEvent(unplugged, START).at).toBe('starting')
    expect(afterEvent(unplugged, stop('player'))).toEqual(AT_REST)
    expect(through({ kind: 'unplugged', keyboard: 'Piano' })).toBe(AT_REST)
  })
  it('listens on one page only', () => {
    const elsewhere = through(START, { kind: 'music' }, { kind: 'other-page', page: 'Part 2' })
    expect(elsewhere).toEqual({ at: 'elsewhere', page: 'Part 2' })
    expect(afterEvent(elsewhere, { kind: 'music' })).toBe(elsewhere)
    expect(afterEvent(elsewhere, { kind: 'this-page' })).toEqual(AT_REST)
  })
  it('freely: waits for the first key, plays, judges, and waits for a first key again', () => {
    const free: StandEvent = { kind: 'start', mode: 'free', hasKeyboard: true }
    const events: StandEvent[] = [
      free,
      { kind: 'waiting' },
      { kind: 'music' },
      { kind: 'judged', isClean: false },
      { kind: 'read' },
    ]
    expect(events.map((_, place) => through(...events.slice(0, place + 1)))).toMatchObject([
      { at: 'starting' },
      { at: 'waiting', mode: 'free' },
      { at: 'playing', mode: 'free' },
      { at: 'judged' },
      { at: 'waiting', mode: 'free' },
    ])
    // Who plays on at once is not held up by the verdict.
    expect(
      through(free, { kind: 'waiting' }, { kind: 'music' }, { kind: 'judged', isClean: true }, { kind: 'music' }),
    ).toEqual({ at: 'playing', mode: 'free' })
  })

  it('in turns: the program plays, then the player', () => {
    expect(through(START, { kind: 'count-in' }, { kind: 'shown' }).at).toBe('shown')
    expect(through(START, { kind: 'count-in' }, { kind: 'shown' }, { kind: 'music' })).toEqual({
      at: 'playing',
      mode: 'steady',
    })
    expect(isPractising(through(START, { kind: 'shown' }))).toBe(true)
  })

  it('is listened to at rest, and no practice runs beside it', () => {
    const listening = through({ kind: 'listen' })
    expect([listening.at, isPractising(listening)]).toEqual(['listening', false])
    expect(afterEvent(listening, stop('player'))).toEqual(AT_REST)
    expect(afterEvent(listening, START).at).toBe('starting')
    expect(through(START, { kind: 'count-in' }, { kind: 'listen' }).at).toBe('count-in')
  })

  it('keeps why it rests', () => {
    for (const why of ['player', 'done', 'silence'] as const)
      expect(through(START, { kind: 'count-in' }, stop(why))).toEqual({ at: 'resting', rest: { why } })
    expect(through(START, stop('done'), { kind: 'judged', isClean: true })).toEqual({
      at: 'resting',
      rest: { why: 'done' },
    })
    expect(afterEvent(through(START, stop('done')), stop('player'))).toEqual({ at: 'resting', rest: { why: 'done' } })
  })
})
