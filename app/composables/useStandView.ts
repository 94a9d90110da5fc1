import { unitText } from '#core/words/coach'
import { barAt } from '#core/music/arrangement'
import { chordAhead } from '#core/music/chord-ahead'
import { countBar, subdivisionOf } from '#core/music/counting'
import { expectedNotes, isSameStretch, notesWithin, playedPassage, type Stretch } from '#core/music/passage'
import { symbolText } from '#core/words/note-names'
import { describeStretch } from '#core/words/places'
import { compare, subtract } from '#core/music/quarters'
import { rowsOf } from '#core/music/rows'
import { gateOf } from '#core/coach/gate'
import type { StandPart, useStandPractice } from './useStandPractice'

/** So many rows of bars stand on the page at once; of what is longer the page turns. */
const ROWS_AT_ONCE = 2

/** What the Stand shows of the practice: where it is, the notes and how they were heard, the gate, the count, the chord to come. */
export function useStandView({ arrangement, ...at }: StandPart, practice: ReturnType<typeof useStandPractice>) {
  const { stretch, hands, mode, bpm, coach, coachSet, loop, ownTime, isRunning, lastRound, partHere } = practice
  const isLooping = computed(() => loop.phase.value !== 'stopped')

  /** The hands of the pass that is heard; figures and words of their own, so that a new round of the same is no change. */
  const shownHands = computed(() => isLooping.value ? loop.current.value?.hands ?? hands.value : hands.value)
  const passage = computed(() => playedPassage(arrangement, stretch.value, shownHands.value))
  const expected = computed(() => ownTime.isRunning.value
    ? ownTime.current.value!.expected
    : isLooping.value && loop.current.value ? loop.current.value.expected : expectedNotes(arrangement, passage.value, bpm.value))
  const marks = computed(() => ownTime.isRunning.value ? ownTime.marks.value : loop.marks.value)
  /** The last pass, if it is of the notes now shown. */
  const lastHere = computed(() => lastRound.value?.hands === hands.value && isSameStretch(lastRound.value.stretch, stretch.value) ? lastRound.value : undefined)

  /** The tempo of the pass that is heard or shown, for whatever goes by its clock. */
  const clockBpm = computed(() => ownTime.isRunning.value ? ownTime.current.value!.choice.bpm : isLooping.value && loop.current.value ? loop.current.value.bpm : bpm.value)
  /** How far the pass has come, ms from its beginning at that tempo; before it in the count-in. Undefined while nothing runs. */
  const atMs = computed(() => {
    if (ownTime.isRunning.value) return expected.value[ownTime.due.value[0] ?? 0]?.momentMs
    if (!isLooping.value || !loop.current.value) return undefined
    return loop.beat.value ? loop.beat.value.atMs - loop.current.value.startMs : -1
  })

  const rows = computed(() => rowsOf(arrangement, passage.value, clockBpm.value, coach.plan.value?.parts.map(part => part.from)))
  const isPaged = computed(() => rows.value.length > ROWS_AT_ONCE)
  /** The part around what is played, so that the page stays where it is when a place in it is practised. */
  const shownStretch = computed<Stretch>(() => {
    const part = partHere(stretch.value)?.stretch ?? at.stretch
    const lies = compare(stretch.value.from, part.from) >= 0 && compare(stretch.value.to, part.to) <= 0
    return lies && rowsOf(arrangement, playedPassage(arrangement, part, 'both'), bpm.value).length <= ROWS_AT_ONCE ? part : stretch.value
  })

  const name = computed(() => {
    const part = partHere(stretch.value)
    if (!part) return at.name
    if (isSameStretch(part.stretch, stretch.value)) return part.name
    const unit = coach.plan.value?.stages.find(stage => isSameStretch(stage.unit.stretch, stretch.value))?.unit
    return unit ? sentence(unitText(unit)).replace(/\.$/, '') : `A place in ${part.name}`
  })
  const place = computed(() => `${describeStretch(arrangement, stretch.value)}${passage.value.stretches.length > 1 ? ', with its repeats' : ''}`)

  /** How near the gate is, of what is played now. */
  const gate = computed(() => coach.plan.value && gateOf(coach.plan.value, coach.standing.value, stretch.value, hands.value, mode.value === 'own-time'))

  /** The count of a bar, as fine as these notes need it. */
  const count = computed(() => {
    if (!coachSet.value.counting) return ''
    const bar = barAt(arrangement, stretch.value.from)
    const notes = notesWithin(arrangement, stretch.value).filter(note => hands.value === 'both' || note.hand === hands.value)
    return countBar(bar.meter, subdivisionOf(bar.meter, notes.map(note => subtract(note.onset, arrangement.bars[note.barIndex]!.start)))).join(' ')
  })

  /** The chord to come, called before the change. */
  const chord = computed(() => {
    if (!coachSet.value.chordNames || !isRunning.value || atMs.value === undefined) return undefined
    const found = chordAhead(arrangement, passage.value, clockBpm.value, atMs.value)
    return found && { ...found, symbol: symbolText(found.symbol, useSettingsStore().noteNames) }
  })

  return { expected, marks, lastHere, atMs, rows, isPaged, shownStretch, name, place, gate, count, chord }
}
