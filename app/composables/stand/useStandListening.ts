import type { EndedPass } from './practised'
import { watch, type Ref } from 'vue'
import type { Arrangement } from '#core/music/arrangement'
import { playedPassage } from '#core/music/passage'
import type { Replay } from '#core/sound/of-take'
import type { RenderedScore } from '#core/sound/performance'
import type { Rest, StandEvent, StandState } from '~/utils/stand/states'
import type { Sound } from '~/sound/sound'
import { useListening } from '../sound/useListening'

/** Listening on the Stand: to the passage, or to the last pass. Practice is paused meanwhile. */
export function useStandListening({
  arrangement,
  state,
  send,
  halt,
  performance,
  lastPass,
  startSound,
}: {
  arrangement: Arrangement
  state: Readonly<Ref<StandState>>
  send: (event: StandEvent) => void
  halt: (rest?: Rest) => void
  /** What is to be practised, with whatever plays along. */
  performance: () => Promise<RenderedScore>
  lastPass: () => EndedPass | undefined
  startSound: () => Promise<Sound>
}) {
  const listening = useListening(startSound)
  watch(
    listening.playing,
    on => {
      if (!on && state.value.at === 'listening') send({ kind: 'stop', rest: { why: 'player' } })
    },
    { flush: 'sync' },
  )

  function playBack(what: Promise<RenderedScore>) {
    halt()
    send({ kind: 'listen' })
    void what.then(made => {
      if (state.value.at === 'listening') void listening.play(made)
    })
  }

  /** Plays what is to be practised, or stops it. */
  function listen() {
    if (state.value.at === 'listening') return halt()
    playBack(performance())
  }

  /** The last pass, to be heard again. */
  function hearAgain(replay: Replay) {
    const pass = lastPass()
    if (!pass) return
    const {
      take,
      assessment: { notes, score },
      stretch,
      hands,
      mode,
      bpm,
    } = pass
    playBack(
      import('#core/sound/of-take').then(({ renderReplay }) =>
        renderReplay(
          {
            arrangement,
            passage: playedPassage(arrangement, stretch, hands),
            take,
            bpm: mode === 'own-time' ? bpm : score.bpm,
            notes,
          },
          replay,
        ),
      ),
    )
  }

  return { listening, listen, hearAgain }
}
