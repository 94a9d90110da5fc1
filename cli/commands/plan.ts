import { coachSettings, PRACTICE_ORDERS } from '#core/coach/settings'
import { planSong } from '#core/coach/song-plan'
import { barAt } from '#core/music/arrangement'
import { tempoBeatQuarters } from '#core/music/meter'
import { proposeParts } from '#core/parts/propose'
import { placed, lastBeat } from '#core/parts/places'
import { createPractiser, practise, PRACTISERS, type PractisedPass } from '../practise'
import { reasonText, unitText } from '#core/words/coach'
import { printJson, readScoreFile, VOICE_FLAGS } from '../files'
import { parseCommand } from '../usage'

/** Upper bounds of a simulated course; a learner who gets nowhere is stopped. */
const MOST = { passes: 8000, days: 200 }
/** A simulated learner comes back every day. */
const LEARNERS_MINUTES = 30

/** The coach's passes, one by one, for a simulated player. */
export function plan(args: string[]): void {
  const flags = parseCommand(args, ['SCORE'], ['school', 'player', 'minutes', 'days', ...VOICE_FLAGS])
  const arrangement = readScoreFile(flags.positionals[0]!, flags)
  const player = flags.choice('player', PRACTISERS, 'flawless')
  const school = flags.choice('school', PRACTICE_ORDERS, coachSettings().school)
  const days = flags.number('days', 1, MOST.days)
  const learns = player !== 'flawless' && player !== 'slips'
  const asked = flags.number('minutes', 5, 600)
  const minutes = asked ?? (learns || days !== undefined ? LEARNERS_MINUTES : undefined)
  const parts = proposeParts(arrangement).map((part, place) => ({ ...part, id: String(place) }))
  const song = planSong(arrangement, parts, coachSettings({ school }))
  const passes = [
    ...practise(song, createPractiser(arrangement, player), {
      minutes,
      days: days ?? (asked === undefined ? MOST.days : 1),
      mostPasses: MOST.passes,
    }),
  ]
  printJson({
    school,
    player,
    passes: passes.map((pass, index) => {
      const meter = barAt(arrangement, pass.stretch.from).meter
      return {
        pass: index + 1,
        day: pass.day + 1,
        atMinutes: Math.round(pass.atMinutes * 100) / 100,
        part: unitText(pass.stage.unit),
        from: placed(arrangement, pass.stretch.from),
        to: lastBeat(arrangement, pass.stretch.to),
        hands: pass.hands,
        stage: stageName(pass),
        mode: pass.mode,
        bpm: pass.bpm,
        beatBpm: Math.round((pass.bpm / tempoBeatQuarters(meter)) * 10) / 10,
        clean: pass.past.clean,
        because: pass.because,
        text: reasonText(pass.because, meter),
      }
    }),
  })
}

function stageName({ isReview, isWarmUp, isSpot, stage: { unit }, hands }: PractisedPass): string {
  if (isReview || isWarmUp) return 'review'
  if (isSpot) return 'spot'
  return unit.kind === 'part' ? (hands === 'both' ? 'together' : hands) : unit.kind
}
