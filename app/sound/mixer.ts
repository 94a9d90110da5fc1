import { MIX, MIX_CHANNELS, type Mix, type MixChannel } from '#shared/utils/sound'

/** What is mixed: each channel has its own way to the ears. */
export interface Mixer {
  input: (channel: MixChannel) => AudioNode
  /** Takes volumes and what is muted over at once, without a crack. */
  set: (mix: Partial<Mix>) => void
}

/** Duration of a change of volume, seconds: short enough to seem immediate. */
const CHANGE_SECONDS = 0.006
/** Volumes are heard as even steps when they are squared (common practice of faders). */
const gainOf = ({ volume, muted }: Mix[MixChannel]): number => (muted ? 0 : volume ** 2)

export function createMixer(context: BaseAudioContext, out: AudioNode = context.destination): Mixer {
  const gains = new Map(
    MIX_CHANNELS.map(channel => {
      const gain = context.createGain()
      gain.gain.value = gainOf(MIX[channel])
      gain.connect(out)
      return [channel, gain] as const
    }),
  )
  return {
    input: channel => gains.get(channel)!,
    set(mix) {
      for (const channel of MIX_CHANNELS)
        gains
          .get(channel)!
          .gain.setTargetAtTime(gainOf(mix[channel] ?? MIX[channel]), context.currentTime, CHANGE_SECONDS)
    },
  }
}

/** Which channel a voice of a performance goes through. */
export function channelOf(voice: string): MixChannel {
  if (
    voice === 'click' ||
    voice === 'bass' ||
    voice === 'drums' ||
    voice === 'chords' ||
    voice === 'guide' ||
    voice === 'keys' ||
    voice === 'file'
  )
    return voice
  return voice.startsWith('role ') ? 'roles' : 'piano'
}
