import { expose } from 'comlink'
import { alignRecording, type RecordingAlignment } from '#core/audio/align-recording'
import { handsIn, type Arrangement } from '#core/music/arrangement'
import { wholePassage } from '#core/music/passage'
import { renderPassage } from '#core/sound/of-score'

const aligner = {
  /** Where each moment of a song is heard in a recording (mono samples); undefined where it is another song. */
  align(wave: Float32Array, sampleRate: number, arrangement: Arrangement): RecordingAlignment | undefined {
    const roles = arrangement.others.flatMap(({ silent }, index) => (silent ? [] : [index]))
    return alignRecording(
      wave,
      sampleRate,
      renderPassage(arrangement, wholePassage(arrangement, 'both'), { hands: handsIn('both'), roles }),
    )
  },
}
export type AlignerWorker = typeof aligner

expose(aligner)
