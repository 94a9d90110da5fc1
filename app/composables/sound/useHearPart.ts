import type { StandPart } from '../stand/practised'
import { ref } from 'vue'
import { handsIn, tempoAt, type Hands } from '#core/music/arrangement'
import { playedPassage, wholePassage, type ScoreSpan } from '#core/music/passage'
import { ZERO } from '#core/music/quarters'
import { renderPassage } from '#core/sound/of-score'
import { useAction } from '~/composables/ui/useAction'
import { useListening } from './useListening'
import { preparedPart } from '../stand/usePreparedPart'

/**
 * What is to be heard of a song: a stretch or the whole part of it that is named, or all of the song; by which hands,
 * and at which tempo where it is not the written one.
 */
export interface ToHear {
  partId: string
  stretch?: ScoreSpan
  isWholeSong?: true
  hands: Hands
  bpm?: number
}

/** Plays parts of songs on pages that do not have their notes: these are fetched when something is to be heard. */
export function useHearPart({
  listening = useListening(),
  fetchPart = async (id: string): Promise<StandPart> => await $fetch<StandPart>(`/api/parts/${id}`),
} = {}) {
  /** The name of what plays now, as it was given; '' when nothing does. */
  const heard = ref('')
  const { act, problem } = useAction()

  /** Plays what has a name, or stops it where it plays. */
  async function toggle(name: string, { partId, stretch, isWholeSong, hands, bpm }: ToHear) {
    const isOn = listening.playing.value && heard.value === name
    listening.stop()
    heard.value = isOn ? '' : name
    problem.value = ''
    if (isOn) return
    await act(async () => {
      const part = preparedPart(partId) ?? (await fetchPart(partId))
      if (heard.value !== name) return
      const { arrangement } = part
      const passage = isWholeSong
        ? wholePassage(arrangement, hands)
        : playedPassage(arrangement, stretch ?? part.stretch, hands)
      await listening.play(
        renderPassage(
          arrangement,
          passage,
          { hands: handsIn(hands) },
          bpm ?? (isWholeSong ? tempoAt(arrangement, ZERO) : undefined),
        ),
      )
      if (listening.problem.value) throw new Error(listening.problem.value)
    })
  }

  function stop() {
    heard.value = ''
    listening.stop()
  }

  return { problem, toggle, stop, isOn: (name: string): boolean => listening.playing.value && heard.value === name }
}
