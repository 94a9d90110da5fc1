import type { ChordPlan, PlannedTurn } from '../music/chord-plan'
import { plural } from './amounts'
import { symbolText, type NoteNames } from './note-names'

const TIMES = ['', 'once', 'twice']

/** A plan of chords as a player counts it: "C 4 bars, F 2 bars; then twice G 1 bar, F 1 bar". */
export function planText({ unit, turns }: ChordPlan, names?: NoteNames): string {
  const count = (amount: number) =>
    unit === 'half bar'
      ? amount % 2 === 0
        ? plural(amount / 2, 'bar')
        : amount === 1
          ? 'half a bar'
          : `${(amount - 1) / 2}½ bars`
      : plural(amount, unit)
  const turn = ({ chords, times }: PlannedTurn) =>
    `${times > 1 ? `${TIMES[times] ?? `${times} times`} ` : ''}${chords.map(chord => `${symbolText(chord.symbol, names)} ${count(chord.count)}`).join(', ')}`
  return turns.map((one, index) => `${index > 0 ? 'then ' : ''}${turn(one)}`).join('; ')
}
