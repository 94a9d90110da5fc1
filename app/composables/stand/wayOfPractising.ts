import type { LoopChoice } from './practised'
import type { LiveMark } from '#core/ear/live'
import type { TimedMessage } from '#core/ear/take'
import type { ExpectedNote } from '#core/music/passage'

/** A value that is followed as it changes, where it does. */
interface Shown<Value> {
  readonly value: Value
}

/** One of the ways of practising: with the click, in the player's own time, freely. At most one of them runs. */
export interface WayOfPractising {
  /** What is practised: where, with which hands, at which tempo; undefined while it does not run. */
  now: Shown<LoopChoice | undefined>
  /** The notes of that, where the way lays them out itself. */
  expected: Shown<readonly ExpectedNote[] | undefined>
  /** How notes were heard so far, by index. */
  marks: Shown<ReadonlyMap<number, LiveMark>>
  /** The notes that are waited for, by index. */
  due: Shown<readonly number[]>
  /** How far it has come, ms from its beginning at its tempo, negative in the count-in; undefined before a key. */
  atMs: Shown<number | undefined>
  /** Begins, or begins again with the present choice. */
  start: () => void | Promise<void>
  stop: () => void
  /** A message of any keyboard, also while it does not run. */
  hear: (message: TimedMessage) => void
  /** What accompanies has changed. */
  rearrange: () => void
}

/** Of a way that marks nothing while it is played, or waits for nothing. */
export const NO_MARKS: WayOfPractising['marks'] = { value: new Map() }
export const NOTHING_DUE: WayOfPractising['due'] = { value: [] }
