import { practisedDay, type PassOutcome, type PractisedPass as PassOfDay } from '#core/coach/practised-day'
import { eventOnsets } from '#core/coach/pass'
import { startRecord } from '#core/coach/record'
import type { NextPass, SongPlan } from '#core/coach/song-plan'
import type { SongInWork } from '#core/coach/session'
import type { Arrangement } from '#core/music/arrangement'
import { notesWithin, passageClock, playedPassage } from '#core/music/passage'
import { createLearner, LEARNERS, rememberedRanges } from '#core/players/learner'

/** How somebody plays what the coach asks for. */
export interface Practiser {
  play: (next: NextPass) => PassOutcome
  /** Sleeps until the next day. */
  sleep: () => void
}

/**
 * Who practises: `flawless` makes no mistake; `slips` plays one wrong note in the first pass of each stage; the others
 * are simulated learners, whose numbers are invented.
 */
export type PractiserName = 'flawless' | 'slips' | keyof typeof LEARNERS
export const PRACTISERS = ['flawless', 'slips', ...Object.keys(LEARNERS)] as PractiserName[]

export function createPractiser(arrangement: Arrangement, name: PractiserName, seed = 1): Practiser {
  if (name !== 'flawless' && name !== 'slips') return learning(arrangement, name, seed)
  const begun = new Set<string>()
  return {
    sleep: () => {},
    play(next) {
      const {
        stage: { unit },
        stretch,
        hands,
      } = next
      const stage = `${unit.kind} ${unit.first} ${unit.last} ${hands}`
      const notes = notesWithin(arrangement, stretch).filter(note => hands === 'both' || note.hand === hands).length
      const places = eventOnsets(arrangement, stretch, hands)
      const slips = name === 'slips' && !begun.has(stage) && places.length > 0
      begun.add(stage)
      return {
        clean: !slips,
        right: notes - (slips ? 1 : 0),
        notes,
        failed: slips ? [places[Math.floor(places.length / 2)]!] : [],
        lengthMs: lengthOf(arrangement, next),
      }
    },
  }
}

function learning(arrangement: Arrangement, name: keyof typeof LEARNERS, seed: number): Practiser {
  const learner = createLearner(LEARNERS[name], seed)
  const scoreRange = rememberedRanges(arrangement)
  return {
    sleep: () => learner.sleep(),
    play: ({ stretch, hands, mode, bpm }) =>
      learner.play(scoreRange(stretch, hands), mode === 'own-time' ? undefined : bpm),
  }
}

const lengthOf = (arrangement: Arrangement, { stretch, hands, bpm }: NextPass): number =>
  passageClock(arrangement, playedPassage(arrangement, stretch, hands), bpm).lengthMs

/** A pass as it was asked for and played. */
export interface PractisedPass extends PassOfDay {
  /** The day of practice, from 0, and minutes of practice since the very beginning, count-ins and pauses among them. */
  day: number
  atMinutes: number
}

export interface PracticeWish {
  /** Minutes a day; undefined: as long as it takes. */
  minutes?: number
  /** Days at most. */
  days: number
  /** Passes at most, in all. */
  mostPasses: number
}

const DAY_MS = 86_400_000
/** The first day of practice, ms since 1970: any will do. */
const FIRST_DAY = 20_000

/**
 * What somebody plays who does as the coach says, pass by pass and day by day; until everything is reached or the days
 * are over.
 */
export function* practise(
  plan: SongPlan,
  practiser: Practiser,
  { minutes, days, mostPasses }: PracticeWish,
): Generator<PractisedPass, void, void> {
  const dayOf = (ms: number) => String(Math.floor(ms / DAY_MS))
  let songs: SongInWork[] = [{ songId: 'song', title: '', plan, record: startRecord(plan) }]
  let [count, earlierMs] = [0, 0]
  for (let day = 0; day < days; day++) {
    const startMs = (FIRST_DAY + day) * DAY_MS
    const passes = practisedDay(songs, next => practiser.play(next), { startMs, minutes, isFirst: day === 0, dayOf })
    for (let step = passes.next(); ; step = passes.next()) {
      if (step.done) {
        if (step.value.isDone) return
        songs = step.value.songs
        earlierMs += step.value.lastedMs
        break
      }
      yield { ...step.value, day, atMinutes: (earlierMs + step.value.past.atMs - startMs) / 60_000 }
      if (++count >= mostPasses) return
    }
    practiser.sleep()
  }
}
