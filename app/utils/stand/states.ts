/**
 * How practice goes: to the click; in the player's own time, key by key; or freely, at the player's own tempo, from the
 * first key to a rest.
 */
export type PracticeMode = 'steady' | 'own-time' | 'free'

/**
 * Why nothing is played now: not begun yet or stopped by the player; as often as was asked for; no key struck for
 * several rounds, or the computer slept; nothing plugged in that could be heard.
 */
export interface Rest {
  why: 'player' | 'done' | 'silence' | 'no-keyboard'
}

/**
 * The state of the Stand. Counting in, waiting for keys, playing, judged and moving on are states of practice;
 * interrupted and elsewhere are not, and say how to resume.
 */
export type StandState =
  | { at: 'resting'; rest: Rest }
  | { at: 'starting'; mode: PracticeMode }
  | { at: 'count-in'; mode: 'steady' }
  | { at: 'playing'; mode: 'steady' | 'free' }
  /** The program plays what the player plays next. */
  | { at: 'shown'; mode: 'steady' }
  /** For the keys of a moment, in the player's own time; freely, for the first key of all. */
  | { at: 'waiting'; mode: 'own-time' | 'free' }
  /** A pass has just been judged; the next one may have begun. */
  | { at: 'judged'; mode: PracticeMode; isClean: boolean }
  /** Something else comes now. */
  | { at: 'going-on'; mode: PracticeMode }
  /** The program plays; practice is paused. */
  | { at: 'listening' }
  /** The keyboard that was played was unplugged. */
  | { at: 'interrupted'; mode: PracticeMode; keyboard: string }
  /** Another page of the program listens to the keyboards. */
  | { at: 'elsewhere'; page: string }

export type StandEvent =
  /** The player wants to play; `hasKeyboard`: something is listened to. */
  | { kind: 'start'; mode: PracticeMode; hasKeyboard: boolean }
  | { kind: 'count-in' }
  | { kind: 'music' }
  /** In turns: the program's has come. */
  | { kind: 'shown' }
  | { kind: 'listen' }
  | { kind: 'waiting' }
  | { kind: 'judged'; isClean: boolean }
  /** The verdict has stood for a while. */
  | { kind: 'read' }
  | { kind: 'moved'; mode: PracticeMode }
  | { kind: 'stop'; rest: Rest }
  | { kind: 'unplugged'; keyboard: string }
  | { kind: 'other-page'; page: string }
  | { kind: 'this-page' }

export const AT_REST: StandState = { at: 'resting', rest: { why: 'player' } }

/** Whether keys are heard as music and clicks run. */
export const isPractising = (state: StandState): boolean =>
  state.at !== 'resting' && state.at !== 'listening' && state.at !== 'interrupted' && state.at !== 'elsewhere'

/** What may happen when: the state after an event. One that cannot happen in a state changes nothing. */
export function afterEvent(state: StandState, event: StandEvent): StandState {
  const isOn = isPractising(state)
  switch (event.kind) {
    case 'start':
      if (isOn) return state
      return event.hasKeyboard ? { at: 'starting', mode: event.mode } : { at: 'resting', rest: { why: 'no-keyboard' } }
    case 'count-in':
      return isOn && state.at !== 'judged' ? { at: 'count-in', mode: 'steady' } : state
    case 'music':
      if (state.at === 'waiting' && state.mode === 'free') return { at: 'playing', mode: 'free' }
      if (state.at === 'judged') return state.mode === 'free' ? { at: 'playing', mode: 'free' } : state
      return state.at === 'count-in' || state.at === 'shown' || state.at === 'going-on' || state.at === 'starting'
        ? { at: 'playing', mode: 'steady' }
        : state
    case 'shown':
      return isOn && 'mode' in state && state.mode === 'steady' ? { at: 'shown', mode: 'steady' } : state
    case 'listen':
      return state.at === 'resting' || state.at === 'listening' ? { at: 'listening' } : state
    case 'waiting':
      return isOn && state.at !== 'judged' && 'mode' in state
        ? { at: 'waiting', mode: state.mode === 'free' ? 'free' : 'own-time' }
        : state
    case 'judged':
      return isOn && 'mode' in state ? { at: 'judged', mode: state.mode, isClean: event.isClean } : state
    case 'read':
      if (state.at !== 'judged') return state
      return state.mode === 'steady' ? { at: 'playing', mode: 'steady' } : { at: 'waiting', mode: state.mode }
    case 'moved':
      return isOn ? { at: 'going-on', mode: event.mode } : state
    case 'stop':
      return isOn || state.at === 'interrupted' || state.at === 'listening'
        ? { at: 'resting', rest: event.rest }
        : state
    case 'unplugged':
      return isOn && 'mode' in state ? { at: 'interrupted', mode: state.mode, keyboard: event.keyboard } : state
    case 'other-page':
      return { at: 'elsewhere', page: event.page }
    case 'this-page':
      return state.at === 'elsewhere' ? AT_REST : state
  }
}
