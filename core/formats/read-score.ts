import type { Guess } from '../music/guess'
import { plainText, withPlainText } from '../music/plain-text'
import { NotExact } from '../music/quarters'
import { arrangeChart, meterOf, type ChartChoices } from './chart/chart-arrangement'
import { isChart, readChart } from './chart/read-chart'
import { isMidi } from './midi/midi-file'
import { readMidiArrangement, type MidiChoices, type PlayedRecording } from './midi/read-arrangement'
import { decodeText } from './musicxml/archive'
import { readMusicXml, UNTITLED, type ReadScore } from './musicxml/read'
import { writeMusicXml } from './musicxml/write'
import { isGuess } from '../music/remark'
import type { VoiceNotes } from '../music/voice'
import { RHYTHMS } from '../notate/notate'
import { readJsonSong } from './read-json'
import { withHandsSwapped } from './roles'
import { UnusableInput } from './unusable'

/** What the player decides about a song that comes in; whatever is left out is taken as it was found. */
export interface SongChoices extends MidiChoices, ChartChoices {
  title?: string
  composer?: string
  /** The hands the other way round. */
  swapHands?: boolean
}

export type SongFormat = 'MusicXML' | 'MIDI' | 'chord chart' | 'JSON'

export interface ReadSong extends ReadScore {
  format: SongFormat
  /** What was not in the file and had to be decided. */
  guesses: Guess[]
  /** Parts of a score, tracks or channels of a MIDI file, with who plays them. */
  voices: VoiceNotes[]
  /** Of a recording: as it was played. */
  played?: PlayedRecording
}

/**
 * Reads a song in any format that is known: MusicXML (.musicxml, .xml, .mxl), a Standard MIDI File, a chord chart or
 * ChordPro text, or the program's own JSON. The kind is seen from the content; `fileName` gives a title where the file
 * has none. `writtenBars`: what is not MusicXML is written as such only so far, to be looked at. Throws UnusableInput,
 * naming the place.
 */
export function readSong(
  bytes: Uint8Array,
  fileName: string,
  choices: SongChoices = {},
  writtenBars?: number,
): ReadSong {
  try {
    return readAs(bytes, fileName, choices, writtenBars)
  } catch (error) {
    if (!(error instanceof NotExact)) throw error
    // Nothing that sounds is refused for its rhythm: what is too fine to be written is written more plainly.
    const plainer = RHYTHMS[RHYTHMS.indexOf(choices.rhythm ?? 'found') + 1]
    if (plainer === undefined) throw new UnusableInput('the rhythm', error.message)
    return readSong(bytes, fileName, { ...choices, rhythm: plainer }, writtenBars)
  }
}

function readAs(bytes: Uint8Array, fileName: string, choices: SongChoices, writtenBars?: number): ReadSong {
  const named =
    fileName
      .replace(/^.*[/\\]/, '')
      .replace(/\.[^.]*$/, '')
      .replaceAll(/[_-]+/g, ' ')
      .trim() || UNTITLED
  const read = byContent(bytes, named, choices)
  let { arrangement, musicXml } = read
  if (choices.swapHands) ({ arrangement, musicXml } = withHandsSwapped({ arrangement, musicXml }))
  if (choices.title !== undefined) arrangement = { ...arrangement, title: choices.title }
  if (choices.composer !== undefined) arrangement = { ...arrangement, composer: choices.composer }
  arrangement = withPlainText(arrangement)
  if (musicXml === '') ({ arrangement, musicXml } = writeMusicXml(arrangement, writtenBars))
  return {
    ...read,
    arrangement,
    musicXml: plainText(musicXml),
    voices: withPlainText(read.voices),
    guesses: withPlainText(read.guesses),
  }
}

function byContent(bytes: Uint8Array, named: string, choices: SongChoices): ReadSong {
  if (isMidi(bytes)) {
    return { format: 'MIDI', musicXml: '', ...readMidiArrangement(bytes, named, choices) }
  }
  const isZip = bytes[0] === 0x50 && bytes[1] === 0x4b
  const text = isZip ? '' : decodeText(bytes)
  if (/^\s*\{\s*"/.test(text)) {
    const arrangement = readJsonSong(text)
    return {
      format: 'JSON',
      arrangement: arrangement.title === '' ? { ...arrangement, title: named } : arrangement,
      musicXml: '',
      guesses: [],
      voices: [],
    }
  }
  if (!isZip && !text.trimStart().startsWith('<') && isChart(text)) {
    const { arrangement, guesses } = arrangeChart(readChart(text, meterOf(choices.patterns)), named, choices)
    return { format: 'chord chart', arrangement, musicXml: '', guesses, voices: [] }
  }
  if (!isZip && bytes.length > 0 && !text.trimStart().startsWith('<')) {
    throw new UnusableInput(
      'byte 0',
      'a MusicXML score, a MIDI file, or a chord chart ("| C / G/B / |" or ChordPro) was expected',
    )
  }
  const score = readMusicXml(bytes, choices.voices)
  const { musicXml, voices } = score
  const arrangement = score.arrangement.title === UNTITLED ? { ...score.arrangement, title: named } : score.arrangement
  const remarks = score.arrangement.warnings.filter(remark => typeof remark !== 'string')
  return {
    format: 'MusicXML',
    musicXml,
    voices,
    arrangement: { ...arrangement, warnings: remarks.filter(remark => !isGuess(remark)) },
    guesses: remarks.filter(isGuess).map(remark => ({ about: 'hands', kind: 'in-the-file', remark })),
  }
}
