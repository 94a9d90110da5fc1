import { practisedDay } from '#core/coach/practised-day'
import type { SongInWork } from '#core/coach/session'
import type { Assessment } from '#core/ear/assessment'
import type { Take } from '#core/ear/take'
import { loopPlan } from '#core/music/loop'
import { expectedNotes, playedPassage, type Passage } from '#core/music/passage'
import { createLearner, LEARNERS, rememberedRanges } from '#core/players/learner'
import { takeOfLearner } from '#core/players/learners-take'
import type { PractisedPass, PlayAsAsked } from '#core/coach/practised-day'
import type { JudgedColumns } from '../database/schema/passes'
import { judgePass } from '../domain/judge-pass'

/** An evening of practice: when it began, how long it lasted, and the song that was worked on. */
export interface Evening {
  startsAt: Date
  minutes: number
  songId: string
}

/** A pass of a simulated learner with everything that is kept of it. */
export interface SimulatedPass extends PractisedPass {
  songId: string
  startedAt: Date
  passage: Passage
  take: Take
  lengthMs: number
  judged: { assessment: Assessment; columns: JudgedColumns }
}

const DAY_MS = 86_400_000

/**
 * What a simulated learner plays on some evenings, oldest first, who does as the coach says: what comes back of all
 * songs begun so far, then the evening's song. Each pass is a take that is judged as any other. The same evenings and
 * seed give the same takes.
 */
export function* practiseAsLearner(
  songs: readonly SongInWork[],
  evenings: readonly Evening[],
  { learner: name, seed, dayOf }: { learner: keyof typeof LEARNERS; seed: number; dayOf: (ms: number) => string },
): Generator<SimulatedPass, void, void> {
  const learner = createLearner(LEARNERS[name], seed)
  const known = new Map(
    songs.map(song => [
      song.songId,
      {
        song,
        scoreRange: rememberedRanges(song.plan.arrangement),
        onsets: new Map(song.plan.arrangement.notes.map(note => [note.id, note.onset])),
      },
    ]),
  )
  const begun: string[] = []
  let count = 0
  for (const [index, { startsAt, minutes, songId }] of evenings.entries()) {
    const isFirst = begun.length === 0
    if (!isFirst)
      learner.sleep(Math.max(1, Math.round((startsAt.getTime() - evenings[index - 1]!.startsAt.getTime()) / DAY_MS)))
    begun.unshift(songId, ...begun.splice(0).filter(id => id !== songId))
    let played: Omit<SimulatedPass, keyof PractisedPass> | undefined
    const play: PlayAsAsked = ({ stretch, hands, bpm, mode }, song, atMs) => {
      const { scoreRange, onsets } = known.get(song.songId)!
      const isOwnTime = mode === 'own-time'
      const { arrangement } = song.plan
      const passage = playedPassage(arrangement, stretch, hands)
      const expected = expectedNotes(arrangement, passage, bpm)
      const pass = learner.play(scoreRange(stretch, hands), isOwnTime ? undefined : bpm)
      const take = takeOfLearner({ pass, expected, placeOf: id => onsets.get(id)!, isOwnTime, seed: seed + ++count })
      const judged = judgePass(arrangement, { passage, take, mode, bpm, offsetMs: 0, strictness: 'normal' })
      const lengthMs = isOwnTime
        ? Math.max(0, ...take.notes.map(note => note.onsetMs + note.durationMs))
        : loopPlan(arrangement, passage, bpm).roundMs
      played = { songId: song.songId, startedAt: new Date(atMs), passage, take, lengthMs, judged }
      const { clean, right, notes, failed } = judged.columns
      return { clean, right, notes, failed: failed ?? [], lengthMs }
    }
    const day = practisedDay(
      begun.map(id => known.get(id)!.song),
      play,
      { startMs: startsAt.getTime(), minutes, isFirst, dayOf },
    )
    for (let step = day.next(); ; step = day.next()) {
      if (step.done) {
        for (const song of step.value.songs) known.get(song.songId)!.song = song
        break
      }
      yield { ...step.value, ...played! }
    }
  }
}
