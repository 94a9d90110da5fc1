import { ref } from 'vue'
import type { Hand } from '#core/music/arrangement'
import type { Meter } from '#core/music/meter'
import { wholePassage } from '#core/music/passage'
import type { HandPattern } from '#core/patterns/hand-pattern'
import { performPassage } from '#core/sound/of-score'
import { messageOf } from '~/utils/messageOf'
import { useListening } from './useListening'
import { usePatternsWorker } from './usePatternsWorker'

/** Four chords that many songs are made of. */
const DEGREES = ['I', 'vi', 'IV', 'V7']

/** Plays a pattern over a turn of four chords, the other hand holding them. */
export function useHearPattern({ listening = useListening(), worker = usePatternsWorker } = {}) {
  const problem = ref('')
  const heard = ref('')
  async function toggle(pattern: HandPattern, meter: Meter, { bpm, hand, reach }: { bpm: number, hand: Hand, reach: number }) {
    const isOn = listening.playing.value && heard.value === pattern.name
    listening.stop()
    heard.value = isOn ? '' : pattern.name
    problem.value = ''
    if (isOn) return
    try {
      const made = await worker().drill({ title: '', material: { kind: 'progression', degrees: DEGREES }, patterns: { [hand]: pattern }, keys: { order: 'one' }, meter: { ...meter }, bpm }, reach)
      if (heard.value !== pattern.name) return
      if ('reason' in made) problem.value = made.reason
      else await listening.play(performPassage(made.made, wholePassage(made.made, 'both'), { hands: ['right', 'left'] }))
    }
    catch (error) { problem.value = messageOf(error) }
  }
  return { toggle, problem, playing: listening.playing, isOn: (name: string): boolean => listening.playing.value && heard.value === name }
}
