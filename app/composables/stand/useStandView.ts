import type { StandPart } from './practised'
import { computed } from 'vue'
import { unitText } from '#core/words/coach'
import { barAt, positionOf } from '#core/music/arrangement'
import { chordAhead } from '#core/music/chord-ahead'
import { countBar, subdivisionOf } from '#core/music/counting'
import { expectedNotes, isSameSpan, notesWithin, playedPassage, type ScoreSpan } from '#core/music/passage'
import { symbolText } from '#core/words/note-names'
import { describeStretch } from '#core/words/places'
import { expectedText, outcomeText, type Expected, type WhatIsPlayed } from '#core/words/stand'
import { compare, subtract } from '#core/music/quarters'
import { isolatedPassage } from '#core/coach/place-alone'
import { gateOf } from '#core/coach/gate'
import { wholeBarSpan } from '#core/music/marked'
import { sentence } from '~/utils/ui/sentence'
import { useSettingsStore } from '~/stores/settings'
import type { useStandPractice } from './useStandPractice'
import { NO_MARKS, NOTHING_DUE } from './wayOfPractising'

/**
 * What the Stand shows of the practice: where it is, the notes and how they were heard, what is expected now, the gate,
 * the count, the chord to come.
 */
export function useStandView(
  { arrangement, ...at }: StandPart,
  practice: ReturnType<typeof useStandPractice>,
  settings: Pick<ReturnType<typeof useSettingsStore>, 'noteNames'> = useSettingsStore(),
) {
  const {
    state,
    stretch,
    hands,
    mode,
    bpm,
    coach,
    coachSet,
    running,
    listening,
    playAlong,
    isNotThis,
    isRunning,
    lastRound,
    played,
    howOften,
    partHere,
  } = practice
  /** What is practised at this moment, while anything is. */
  const now = computed(() => running.value?.now.value)

  /**
   * The hands of the pass that is heard; figures and words of their own, so that a new round of the same is no change.
   */
  const shownHands = computed(() => now.value?.hands ?? hands.value)
  /** What of it is played at this moment: in turns of two bars, these. */
  const here = computed(() => now.value?.stretch ?? stretch.value)
  const passage = computed(() => playedPassage(arrangement, here.value, shownHands.value))
  const expected = computed(() => running.value?.expected.value ?? expectedNotes(arrangement, passage.value, bpm.value))
  /** Of a pass that was broken off nothing is kept, and something else may be shown by now. */
  const marks = computed(() => running.value?.marks.value ?? NO_MARKS.value)
  /** The last pass, if it is of the notes now shown. */
  const lastHere = computed(() =>
    lastRound.value?.hands === hands.value && isSameSpan(lastRound.value.stretch, stretch.value)
      ? lastRound.value
      : undefined,
  )

  /** The tempo of the pass that is heard or shown, for whatever goes by its clock. */
  const clockBpm = computed(() => now.value?.bpm ?? bpm.value)
  /**
   * How far the pass has come, ms from its beginning at that tempo; before it in the count-in. Undefined while nothing
   * runs.
   */
  const atMs = computed(() =>
    running.value ? running.value.atMs.value : listening.playing.value ? listening.atMs.value : undefined,
  )

  /** The notes to be seen now, by index: those that are waited for, or those that sound while the program plays. */
  const due = computed(() =>
    listening.playing.value
      ? expected.value.flatMap((note, index) => (listening.sounding.value.has(note.id) ? [index] : []))
      : (running.value?.due.value ?? NOTHING_DUE.value),
  )

  const breaks = computed(() => coach.plan.value?.parts.map(part => part.from) ?? [])
  /**
   * The part around what is played, so that the page stays where it is when a place in it is practised; what is played
   * itself where no part holds it.
   */
  const around = computed<ScoreSpan>(() => {
    const part = partHere(stretch.value)?.stretch ?? at.stretch
    return compare(stretch.value.from, part.from) >= 0 && compare(stretch.value.to, part.to) <= 0 ? part : stretch.value
  })
  const whole = wholeBarSpan(arrangement)

  const name = computed(() => {
    const part = partHere(stretch.value)
    if (!part) return at.name
    if (isSameSpan(part.stretch, stretch.value)) return part.name
    const unit = coach.plan.value?.stages.find(stage => isSameSpan(stage.unit.stretch, stretch.value))?.unit
    return unit
      ? sentence(unitText(unit)).replace(/\.$/, '')
      : compare(stretch.value.to, part.stretch.to) <= 0
        ? `A place in ${part.name}`
        : 'Your own bars'
  })
  const bars = computed(() => describeStretch(arrangement, stretch.value))
  const place = computed(() => `${bars.value}${passage.value.stretches.length > 1 ? ', with its repeats' : ''}`)

  const what = computed((): WhatIsPlayed => ({
    bars: bars.value,
    hands: hands.value,
    bpm: bpm.value,
    meter: barAt(arrangement, stretch.value.from).meter,
    mode: mode.value,
  }))
  /** What is expected of the player at this moment. */
  const isExpected = computed((): Expected => {
    switch (state.value.at) {
      case 'resting':
        return state.value.rest.why === 'no-keyboard' || state.value.rest.why === 'silence'
          ? { kind: state.value.rest.why }
          : { kind: lastRound.value ? 'may-go-on' : 'may-start', what: what.value }
      case 'starting':
        return { kind: 'starting' }
      case 'count-in':
        return { kind: 'count-in', what: what.value, ...beginsOn.value }
      case 'interrupted':
        return { kind: 'interrupted', keyboard: state.value.keyboard }
      case 'elsewhere':
        return { kind: 'elsewhere', page: state.value.page }
      case 'judged':
        return state.value.mode === 'free'
          ? mayBegin.value
          : { kind: state.value.mode === 'steady' ? 'playing' : 'waiting', what: what.value }
      case 'playing':
        return { kind: state.value.mode === 'free' ? 'playing-freely' : 'playing', what: what.value }
      case 'waiting':
        return state.value.mode === 'free' ? mayBegin.value : { kind: 'waiting', what: what.value }
      case 'listening':
        return { kind: 'listening', what: { ...what.value, mode: 'steady' } }
      case 'shown':
      case 'going-on':
        return { kind: state.value.at, what: what.value }
    }
  })
  const mayBegin = computed((): Expected => ({
    kind: 'may-begin',
    what: what.value,
    isFollowed: playAlong.isOn.value,
    isNotThis: isNotThis.value,
  }))
  const beginsOn = computed(() => {
    const { beat } = positionOf(arrangement, stretch.value.from)
    return beat === 1 ? {} : { beginsOn: beat }
  })
  const expectedWords = computed(() => expectedText(isExpected.value))
  /** What came of it, once it was played as often as was asked for. */
  const outcome = computed(() =>
    state.value.at === 'resting' && state.value.rest.why === 'done' && played.value.times > 0
      ? outcomeText(played.value)
      : '',
  )

  /** The place that the last pass asks to be played by itself. */
  const alone = computed(() => {
    const finding = lastHere.value?.assessment.findings[0]
    return finding && isolatedPassage(arrangement, finding, lastHere.value!, bpm.value)
  })

  /** How near the gate is, of what is played now. */
  const gate = computed(() =>
    howOften.value.until === 'stopped' && coach.plan.value
      ? gateOf(coach.plan.value, coach.standing.value, stretch.value, hands.value, mode.value === 'own-time')
      : undefined,
  )

  /** The count of a bar, as fine as these notes need it. */
  const count = computed(() => {
    if (!coachSet.value.counting) return ''
    const bar = barAt(arrangement, stretch.value.from)
    const notes = notesWithin(arrangement, stretch.value).filter(
      note => hands.value === 'both' || note.hand === hands.value,
    )
    return countBar(
      bar.meter,
      subdivisionOf(
        bar.meter,
        notes.map(note => subtract(note.onset, arrangement.bars[note.barIndex]!.start)),
      ),
    ).join(' ')
  })

  /** The chord to come, called before the change. */
  const chord = computed(() => {
    if (!coachSet.value.chordNames || !isRunning.value || atMs.value === undefined) return undefined
    const found = chordAhead(arrangement, passage.value, clockBpm.value, atMs.value)
    return found && { ...found, symbol: symbolText(found.symbol, settings.noteNames) }
  })

  return {
    here,
    expected,
    due,
    marks,
    lastHere,
    atMs,
    breaks,
    passage,
    around,
    whole,
    shownHands,
    clockBpm,
    name,
    place,
    isExpected,
    expectedWords,
    outcome,
    alone,
    gate,
    count,
    chord,
  }
}
