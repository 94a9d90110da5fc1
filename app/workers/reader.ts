import { expose } from 'comlink'
import { readSong, type ReadSong, type SongChoices } from '#core/formats/read-score'
import { UnusableInput } from '#core/formats/unusable'
import { standScore } from '#core/formats/musicxml/stand-score'
import { describeStretch } from '#core/words/places'
import { proposeParts } from '#core/parts/propose'
import { SHOWN_BARS } from '~/utils/notation/shownBars'

/** What is shown of a song; its `musicXml` is what the hands play, of the first bars. */
export interface Preview extends Pick<ReadSong, 'format' | 'guesses' | 'voices' | 'musicXml' | 'played'> {
  arrangement: ReadSong['arrangement']
  parts: string[]
}

/**
 * Reads a song as it would be saved, with its first bars written out. Gives the reason, in words, for what cannot be
 * read. `onStage` reports progress.
 */
async function read(
  bytes: Uint8Array,
  name: string,
  choices: SongChoices,
  onStage: (stage: string) => void,
): Promise<Preview | { reason: string }> {
  try {
    onStage('Reading the notes …')
    const song = readSong(bytes, name, choices, SHOWN_BARS)
    onStage('Looking for parts …')
    const parts = proposeParts(song.arrangement).map(part => `${part.name}, ${describeStretch(song.arrangement, part)}`)
    return { ...song, musicXml: standScore(song, SHOWN_BARS), parts }
  } catch (error) {
    if (error instanceof UnusableInput) return { reason: error.message }
    throw error
  }
}

const reader = { read }
export type SongReader = typeof reader

expose(reader)
