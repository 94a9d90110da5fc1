import type { BackingPiece } from '#core/audio/backing'

/** A recording piece by piece at other tempos, its pitch as it is; rendered once, so that it can be placed like any other sound. */
export async function stretched(recording: AudioBuffer, pieces: readonly BackingPiece[], lengthSeconds: number): Promise<AudioBuffer> {
  const { default: SignalsmithStretch } = await import('signalsmith-stretch')
  const { sampleRate } = recording
  const context = new OfflineAudioContext(2, Math.ceil((lengthSeconds + TAIL_SECONDS) * sampleRate), sampleRate)
  const node = await SignalsmithStretch(context, { numberOfInputs: 0, numberOfOutputs: 1, outputChannelCount: [2] })
  // Only what is played is handed over, from a little before it.
  const from = Math.max(0, pieces[0]!.fromSeconds - AROUND_SECONDS)
  const last = pieces.at(-1)!
  const to = Math.min(recording.duration, last.fromSeconds + (lengthSeconds - last.atSeconds) * last.rate + AROUND_SECONDS)
  const channels = [0, 1].map(channel => recording.getChannelData(Math.min(channel, recording.numberOfChannels - 1)).slice(Math.floor(from * sampleRate), Math.ceil(to * sampleRate)))
  await node.addBuffers(channels)
  for (const { atSeconds, fromSeconds, rate } of pieces) await node.schedule({ output: atSeconds, input: fromSeconds - from, rate, active: true })
  await node.schedule({ output: lengthSeconds, active: false })
  node.connect(context.destination)
  return await context.startRendering()
}
const TAIL_SECONDS = 0.1
const AROUND_SECONDS = 1
