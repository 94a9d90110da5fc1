import { VerovioToolkit } from 'verovio/esm'
import createVerovioModule from 'verovio/wasm'

export interface EngraverNote {
  id: string
  onsetQuarter: number
  durationQuarter: number
  pitch: number
}

let toolkit: Promise<VerovioToolkit> | undefined

/** verovio's own reading of a score: every notehead with its onset and length in quarter notes and its MIDI pitch. */
export async function engraverReading(musicXml: string, { unfold }: { unfold: boolean }): Promise<EngraverNote[]> {
  const verovio = await (toolkit ??= createVerovioModule().then(module => new VerovioToolkit(module)))
  verovio.setOptions({ expandNever: !unfold } as object)
  if (!verovio.loadData(musicXml)) throw new Error('verovio does not read this score')
  const timemap = verovio.renderToTimemap({}) as unknown as { qstamp: number; on?: string[]; off?: string[] }[]
  const ends = new Map(timemap.flatMap(({ qstamp, off = [] }) => off.map((id): [string, number] => [id, qstamp])))
  return timemap.flatMap(({ qstamp, on = [] }) =>
    on.map(id => {
      const { pitch } = verovio.getMIDIValuesForElement(id) as unknown as { pitch: number }
      return { id, onsetQuarter: qstamp, durationQuarter: ends.get(id)! - qstamp, pitch }
    }),
  )
}

/** verovio's own performance of a score, repeats unfolded: the bytes of a Standard MIDI File. */
export async function engraverMidi(musicXml: string): Promise<Uint8Array> {
  const verovio = await (toolkit ??= createVerovioModule().then(module => new VerovioToolkit(module)))
  verovio.setOptions({ expandNever: false } as object)
  if (!verovio.loadData(musicXml)) throw new Error('verovio does not read this score')
  return new Uint8Array(Buffer.from(verovio.renderToMIDI(), 'base64'))
}
