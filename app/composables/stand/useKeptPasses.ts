import type { EndedPass, StandPart } from './practised'
import { computed, ref, shallowRef } from 'vue'
import { tallyRepeats } from '#core/coach/how-often'
import { barAt } from '#core/music/arrangement'
import { isSameSpan, type ScoreSpan } from '#core/music/passage'
import type { useOutboxStore } from '~/stores/outbox'
import { pastPass } from '../coach/useCoach'

/** The passes since the page was opened. Each is put into the outbox, from where it goes to the server. */
export function useKeptPasses(
  { id, stretch: ownStretch, song, arrangement }: StandPart,
  options: {
    outbox: Pick<ReturnType<typeof useOutboxStore>, 'keep'>
    newId: () => string
    /** The part that a stretch begins in, where it is known. */
    partHere: (place: ScoreSpan) => { id: string; stretch: ScoreSpan } | undefined
    /** The player has called the place of a pass hard. */
    isOwnSpot: (pass: EndedPass) => boolean
  },
) {
  const passes = shallowRef<EndedPass[]>([])
  const lastPassId = ref('')
  /** Passes of what is played now, since it was begun. */
  const counted = shallowRef<EndedPass[]>([])
  const played = computed(() =>
    tallyRepeats(
      counted.value.map(({ assessment, failed }) => ({
        isClean: assessment.summary.clean,
        failedBars: failed.map(place => barAt(arrangement, place).number),
      })),
    ),
  )

  function keep(pass: EndedPass) {
    passes.value = [...passes.value, pass]
    counted.value = [...counted.value, pass]
    lastPassId.value = options.newId()
    const part = options.partHere(pass.stretch)
    const isPart = isSameSpan(pass.stretch, part?.stretch ?? ownStretch)
    const isOwnSpot = options.isOwnSpot(pass)
    void options.outbox.keep(
      {
        id: lastPassId.value,
        partId: part?.id ?? id,
        hands: pass.hands,
        mode: pass.mode,
        bpm: pass.bpm,
        lengthMs: pass.lengthMs,
        offsetMs: pass.keyboardDelayMs,
        ...(isPart ? {} : { stretch: pass.stretch }),
        ...(isOwnSpot ? { isOwnSpot: true } : {}),
        strictness: pass.strictness,
        take: pass.take,
        startedAt: new Date(pass.endedAt.getTime() - pass.lengthMs).toISOString(),
      },
      { songId: song.id, pass: pastPass(arrangement, pass, isOwnSpot) },
    )
  }

  /** What is played now is begun from the first of its passes. */
  function recount() {
    counted.value = []
  }

  return { passes, lastPassId, played, keep, recount }
}
