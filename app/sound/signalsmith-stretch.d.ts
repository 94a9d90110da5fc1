declare module 'signalsmith-stretch' {
  interface Change {
    output?: number
    active?: boolean
    input?: number
    rate?: number
    semitones?: number
  }
  export interface StretchNode extends AudioWorkletNode {
    addBuffers: (channels: Float32Array[]) => Promise<number>
    schedule: (change: Change) => Promise<unknown>
  }
  export default function SignalsmithStretch(
    context: BaseAudioContext,
    options?: AudioWorkletNodeOptions,
  ): Promise<StretchNode>
}
