import { readFileSync } from 'node:fs'
import { dirname, join } from 'node:path'
import { fileURLToPath } from 'node:url'
import type { PastPass } from '#core/coach/pass'
import { coachSettings, type CoachSettings } from '#core/coach/settings'
import { afterSongPass, planSong, startSong } from '#core/coach/song-plan'
import { nextInTurn } from '#core/coach/turns'
import { readMusicXml } from '#core/formats/musicxml/read'
import { arrangementEnd, tempoAt, type Arrangement, type Hands, HANDS } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'
import { ZERO } from '#core/music/quarters'
import { notesKey } from '#core/parts/notes-key'
import { proposeParts } from '#core/parts/propose'
import {
  createLearner,
  learnersRange,
  LEARNERS,
  rememberedRanges,
  type Learner,
  type LearnerCharacter,
  type LearnerPass,
} from '#core/players/learner'

/** How much practice it took until both hands play the whole song at its tempo with 95 % right notes. */
export interface Effort {
  minutes: number
  passes: number
  days: number
  reached: boolean
}

const SESSION_MINUTES = 30
/** A routine that has not brought it about by then is given up: fifty days. */
const MAX_MINUTES = 1500
const MAX_PASSES = 8000
const RIGHT_SHARE = 0.95
/** From the end of a pass to the beginning of the next, for every routine alike: a bar of four to get ready. */
const BETWEEN_QUARTERS = 4

/** What to play, pass by pass. */
type Routine = (
  play: (stretch: ScoreSpan, hands: Hands, bpm: number, isOwnTime?: boolean) => LearnerPass & { atMs: number },
) => Generator<void, void, void>

/** Plays passes one after another, sleeps when the day's minutes are over, and stops when the song is learned. */
function practise(
  arrangement: Arrangement,
  character: LearnerCharacter,
  seed: number,
  routine: Routine,
  { untilLearned } = { untilLearned: true },
): Effort {
  const learner: Learner = createLearner(character, seed)
  const whole = learnersRange(arrangement, { from: ZERO, to: arrangementEnd(arrangement) }, 'both')
  const targetBpm = tempoAt(arrangement, ZERO)
  const scoreRange = rememberedRanges(arrangement)
  let [minutes, passes, days, today] = [0, 0, 1, 0]
  const play = (stretch: ScoreSpan, hands: Hands, bpm: number, isOwnTime = false) => {
    const pass = learner.play(scoreRange(stretch, hands), isOwnTime ? undefined : bpm)
    const took = (pass.lengthMs + (BETWEEN_QUARTERS * 60_000) / bpm) / 60_000
    minutes += took
    today += took
    passes++
    return { ...pass, atMs: days * 86_400_000 + today * 60_000 }
  }
  const steps = routine(play)
  while (untilLearned ? minutes < MAX_MINUTES : passes < MAX_PASSES) {
    if (untilLearned && learner.expectedRight(whole, targetBpm) >= RIGHT_SHARE)
      return { minutes, passes, days, reached: true }
    if (steps.next().done) break
    if (today >= SESSION_MINUTES) {
      learner.sleep()
      today = 0
      days++
    }
  }
  return { minutes, passes, days, reached: learner.expectedRight(whole, targetBpm) >= RIGHT_SHARE }
}

/**
 * (a) The whole song from the start each time, both hands; a little faster when it went well, slower when it did not.
 */
export const wholeSong = (arrangement: Arrangement, character: LearnerCharacter, seed: number): Effort =>
  practise(arrangement, character, seed, function* (play) {
    const target = tempoAt(arrangement, ZERO)
    let bpm = 0.6 * target
    while (true) {
      const { right, notes } = play({ from: ZERO, to: arrangementEnd(arrangement) }, 'both', bpm)
      if (right / notes >= RIGHT_SHARE) bpm = Math.min(target, bpm + 5)
      else if (right / notes < 0.8) bpm = Math.max(0.4 * target, bpm - 5)
      yield
    }
  })

/**
 * (b) Part by part, each hand and then both: five times at each tempo, five bpm faster each time, and the whole song at
 * the end.
 */
export const fiveTimesEach = (arrangement: Arrangement, character: LearnerCharacter, seed: number): Effort =>
  practise(arrangement, character, seed, function* (play) {
    const target = tempoAt(arrangement, ZERO)
    function* up(stretch: ScoreSpan, hands: Hands) {
      for (let bpm = 0.6 * target; ; bpm = Math.min(target, bpm + 5)) {
        for (let time = 0; time < 5; time++) {
          play(stretch, hands, bpm)
          yield
        }
        if (bpm >= target) return
      }
    }
    const parts = proposeParts(arrangement)
    for (const part of parts) for (const hands of HANDS) yield* up(part, hands)
    while (true) yield* up({ from: ZERO, to: arrangementEnd(arrangement) }, 'both')
  })

/** The coach: whatever it says comes next, in the order that most practise in. */
export const coached = (arrangement: Arrangement, character: LearnerCharacter, seed: number): Effort =>
  practise(arrangement, character, seed, byTheCoach(arrangement, {}))

/** The school of many turns with counted passes, which was tuned on these learners. */
export const TAKING_TURNS: Partial<CoachSettings> = { school: 'turns', gate: 4, ownTimeGate: 4 }
export const takingTurns = (arrangement: Arrangement, character: LearnerCharacter, seed: number): Effort =>
  practise(arrangement, character, seed, byTheCoach(arrangement, TAKING_TURNS))

/** Whether the coach brings this learner through all stages, joins and the whole song included, in `MAX_PASSES`. */
export function everythingReached(
  arrangement: Arrangement,
  character: LearnerCharacter,
  seed: number,
  settings: Partial<CoachSettings> = {},
): boolean {
  let isDone = false
  practise(
    arrangement,
    character,
    seed,
    byTheCoach(arrangement, settings, () => {
      isDone = true
    }),
    { untilLearned: false },
  )
  return isDone
}

const byTheCoach = (arrangement: Arrangement, settings: Partial<CoachSettings>, allReached?: () => void): Routine =>
  function* (play) {
    const parts = proposeParts(arrangement).map((part, place) => ({ ...part, id: String(place) }))
    const plan = planSong(arrangement, parts, coachSettings(settings))
    let standing = startSong(plan)
    let today: PastPass[] = []
    while (true) {
      const next = nextInTurn(plan, standing, today)
      if (!next && allReached) {
        allReached()
        return
      }
      const last = plan.stages.at(-1)!
      const [stretch, hands, bpm, mode] = next
        ? [next.stretch, next.hands, next.bpm, next.mode]
        : [last.unit.stretch, last.hands, last.targetBpm, 'steady' as const]
      const { right, notes, clean, failed, atMs, lengthMs } = play(stretch, hands, bpm, mode === 'own-time')
      const pass: PastPass = {
        key: notesKey(arrangement, stretch, hands),
        stretch,
        hands,
        mode,
        bpm,
        clean,
        right,
        notes,
        failed,
        atMs,
        lengthMs,
      }
      standing = afterSongPass(plan, standing, pass)
      if (today.length > 0 && dayOf(today[0]!.atMs) !== dayOf(atMs)) today = []
      today.push(pass)
      yield
    }
  }

const dayOf = (ms: number) => Math.floor(ms / 86_400_000)

/** The learners' benchmark: minutes until the song is learned, with the coach and with the two plain routines. */
export function practising(seeds: number): void {
  const mean = (efforts: readonly Effort[]) => efforts.reduce((sum, one) => sum + one.minutes, 0) / efforts.length
  for (const [name, character] of Object.entries(LEARNERS)) {
    const totals = { whole: 0, five: 0, coach: 0, turns: 0 }
    for (const file of SONGS) {
      const { arrangement } = readMusicXml(new Uint8Array(readFileSync(join(DEMO, file))))
      const of = (routine: typeof coached) =>
        Array.from({ length: seeds }, (_, seed) => routine(arrangement, character, seed + 1))
      const [whole, five, coach, turns] = [of(wholeSong), of(fiveTimesEach), of(coached), of(takingTurns)]
      totals.whole += mean(whole)
      totals.five += mean(five)
      totals.coach += mean(coach)
      totals.turns += mean(turns)
      const most = (efforts: readonly Effort[]) =>
        `${efforts.every(one => one.reached) ? '' : 'over '}${mean(efforts).toFixed(0)}`
      process.stdout.write(
        `${name}, ${file.replace('.musicxml', '')}: slow first ${most(coach)} min in ${Math.round(coach.reduce((sum, one) => sum + one.passes, 0) / seeds)} passes; many turns ${most(turns)} min; whole song each time ${most(whole)} min; five times each ${most(five)} min\n`,
      )
    }
    const to = (of: number) =>
      `${share(of, totals.whole)} of the whole song each time, ${share(of, totals.five)} of five times each`
    process.stdout.write(`${name}, all songs: slow first ${to(totals.coach)}; many turns ${to(totals.turns)}\n`)
  }
}

const share = (part: number, whole: number): string => `${Math.round((100 * part) / whole)} %`
/** The bundled command stands in the same depth as this file. */
const DEMO = join(dirname(fileURLToPath(import.meta.url)), '../../demo')
const SONGS = ['lantern-ferry.musicxml', 'snow-on-the-towpath.musicxml', 'side-street-shuffle.musicxml']
