import type { BackingPiece } from '#core/audio/backing'

/** What runs in before the stretch begins, and is cut off again: the library's own delay, s. */
const LEAD_SECONDS = 0.5
/** Lead with which the library must be told of another rate, and the least distance of two changes. */
const TOLD_SECONDS = 0.25
const TAIL_SECONDS = 0.1
const AROUND_SECONDS = 1.5

/**
 * A recording piece by piece at other tempos, its pitch as it is; rendered once, so that it can be placed like any
 * other sound.
 */
export async function stretched(
  recording: AudioBuffer,
  pieces: readonly BackingPiece[],
  lengthSeconds: number,
): Promise<AudioBuffer> {
  const { default: SignalsmithStretch } = await import('signalsmith-stretch')
  const { sampleRate } = recording
  const [channels, frames] = [
    Math.min(2, recording.numberOfChannels),
    Math.ceil((lengthSeconds + TAIL_SECONDS) * sampleRate),
  ]
  const context = new OfflineAudioContext(channels, frames + Math.round(LEAD_SECONDS * sampleRate), sampleRate)
  const node = await SignalsmithStretch(context, {
    numberOfInputs: 0,
    numberOfOutputs: 1,
    outputChannelCount: [channels],
  })
  // Only what is played is handed over, and a little around it.
  const [first, last] = [pieces[0]!, pieces.at(-1)!]
  const from = Math.max(0, first.fromSeconds - AROUND_SECONDS)
  const to = Math.min(
    recording.duration,
    last.fromSeconds + (lengthSeconds - last.atSeconds) * last.rate + AROUND_SECONDS,
  )
  await node.addBuffers(
    Array.from({ length: channels }, (_, channel) =>
      recording.getChannelData(channel).slice(Math.floor(from * sampleRate), Math.ceil(to * sampleRate)),
    ),
  )
  await node.schedule({
    output: 0,
    input: first.fromSeconds - from - LEAD_SECONDS * first.rate,
    rate: first.rate,
    active: true,
  })
  let told = 0
  for (const { atSeconds, fromSeconds, rate } of pieces.slice(1)) {
    if (atSeconds - told <= TOLD_SECONDS) continue
    told = atSeconds
    const output = LEAD_SECONDS + atSeconds
    void context.suspend(output - TOLD_SECONDS).then(async () => {
      await node.schedule({ output, input: fromSeconds - from, rate, active: true })
      await context.resume()
    })
  }
  node.connect(context.destination)
  const rendered = await context.startRendering()
  const cut = new AudioBuffer({ numberOfChannels: channels, length: frames, sampleRate })
  for (let channel = 0; channel < channels; channel++)
    cut.copyToChannel(rendered.getChannelData(channel).subarray(Math.round(LEAD_SECONDS * sampleRate)), channel)
  return cut
}
