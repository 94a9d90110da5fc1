import { readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { extname } from 'node:path'
import { inspectSong } from '#core/formats/json'
import { readTake } from '#core/formats/midi/read-take'
import { writeArrangementMidi } from '#core/formats/midi/write-arrangement'
import { compressMusicXml } from '#core/formats/musicxml/archive'
import { readSong, type ReadSong, type SongChoices } from '#core/formats/read-score'
import { guessText } from '#core/words/remarks'
import { UnusableInput } from '#core/formats/unusable'
import type { HandPattern } from '#core/patterns/hand-pattern'
import { handPatternNamed } from '#core/patterns/hand-patterns'
import { patternFrom } from '#core/patterns/read-documents'
import type { Arrangement, Hands } from '#core/music/arrangement'
import { barsPassage, wholePassage, type Passage } from '#core/music/passage'
import type { Take } from '#core/ear/take'
import type { VoiceAssignment, Voice, VoiceChoice } from '#core/music/voice'
import { barRange, UsageError } from './usage'

export const inFile = <T>(path: string, read: (bytes: Uint8Array) => T): T => {
  let bytes: Uint8Array
  try {
    bytes = new Uint8Array(readFileSync(path))
  } catch (error) {
    throw new UnusableInput(path, `cannot be read (${(error as NodeJS.ErrnoException).code ?? 'error'})`)
  }
  try {
    return read(bytes)
  } catch (error) {
    if (error instanceof UnusableInput) throw new UnusableInput(path, error.message)
    throw error
  }
}

/** A song of any known format; what had to be guessed stands with its warnings. */
export const readSongFile = (path: string, flags?: VoiceFlags, choices: SongChoices = {}): ReadSong =>
  inFile(path, bytes => {
    const proposed = readSong(bytes, path, choices)
    const voices = flags && voicesOf(flags, proposed.voices)
    const song = voices ? readSong(bytes, path, { ...choices, voices }) : proposed
    return {
      ...song,
      arrangement: {
        ...song.arrangement,
        warnings: [...song.arrangement.warnings, ...song.guesses.map(guess => `guessed: ${guessText(guess)}`)],
      },
    }
  })
export const readScoreFile = (path: string, flags?: VoiceFlags): Arrangement => readSongFile(path, flags).arrangement

/** The flags that assign a score's parts. */
export const VOICE_FLAGS = ['right', 'left', 'both', 'role', 'nobody'] as const satisfies readonly VoiceAssignment[]
export interface VoiceFlags {
  text: (flag: (typeof VOICE_FLAGS)[number]) => string | undefined
}

/**
 * The assignment by flags, parts by number or name; parts that no flag names are nobody's. Undefined without a flag.
 */
function voicesOf(flags: VoiceFlags, voices: readonly Voice[]): VoiceChoice | undefined {
  const said = VOICE_FLAGS.flatMap(plays =>
    (flags.text(plays)?.split(',') ?? []).map(part => ({ plays, part: part.trim() })),
  )
  if (said.length === 0) return undefined
  const choice: Record<number, VoiceAssignment> = Object.fromEntries(voices.map(({ number }) => [number, 'nobody']))
  for (const { plays, part } of said) {
    const voice =
      voices.find(one => String(one.number) === part) ??
      voices.find(one => one.name.toLowerCase() === part.toLowerCase())
    if (!voice)
      throw new UsageError(
        `--${plays}: there is no part "${part}"; the parts are ${voices.map(one => `${one.number} (${one.name})`).join(', ') || 'not named in this format'}`,
      )
    choice[voice.number] = plays
  }
  return choice
}

export const readTakeFile = (path: string): Take => inFile(path, readTake)

/** The bars asked for as written, or the whole song in playing order. */
export function passageOf(arrangement: Arrangement, path: string, bars: string | undefined, hands: Hands): Passage {
  if (bars === undefined) return wholePassage(arrangement, hands)
  const [first, last] = barRange(bars)
  try {
    return barsPassage(arrangement, first, last, hands)
  } catch (error) {
    if (error instanceof RangeError) throw new UnusableInput(path, error.message)
    throw error
  }
}

/** One that ships, by name, or one in a file of its own. */
export function patternOf(name: string): HandPattern {
  const known = handPatternNamed(name)
  if (known) return known
  if (!name.toLowerCase().endsWith('.json'))
    throw new UsageError(
      `--pattern: there is no pattern "${name}"; --list names them, and one of your own is a .json file`,
    )
  return jsonFile(name, patternFrom)
}

/** A JSON file as what it is to be; `from` throws a RangeError for anything else. */
export const jsonFile = <T>(path: string, from: (value: unknown) => T): T =>
  inFile(path, bytes => {
    try {
      return from(JSON.parse(new TextDecoder().decode(bytes)))
    } catch (error) {
      if (error instanceof RangeError || error instanceof SyntaxError) throw new UnusableInput('', error.message)
      throw error
    }
  })

/** The document that was read, or of other formats the one that was written from them, is the score as MusicXML. */
const WRITERS: Record<string, (song: Pick<ReadSong, 'arrangement' | 'musicXml' | 'voices'>) => string | Uint8Array> = {
  '.json': song => `${JSON.stringify(inspectSong(song), null, 2)}\n`,
  '.mid': ({ arrangement }) => writeArrangementMidi(arrangement),
  '.musicxml': ({ musicXml }) => musicXml,
  '.mxl': ({ musicXml }) => compressMusicXml(musicXml),
}

/**
 * Writes a song in the format that a file's ending names. `checkEnding` alone says before any work that there is none
 * for it.
 */
export function writeSong(path: string, song: Pick<ReadSong, 'arrangement' | 'musicXml' | 'voices'>): void {
  writeWhole(path, checkEnding(path)(song))
}

export function checkEnding(path: string) {
  const write = WRITERS[extname(path).toLowerCase()]
  if (!write) throw new UsageError(`OUT ends in ${Object.keys(WRITERS).join(' or ')}, not "${extname(path)}"`)
  return write
}

/** Writes a file whole or not at all. */
export function writeWhole(path: string, content: string | Uint8Array): void {
  const draft = `${path}.${process.pid}.part`
  try {
    writeFileSync(draft, content)
    renameSync(draft, path)
  } catch (error) {
    rmSync(draft, { force: true })
    throw new UnusableInput(path, `cannot be written (${(error as NodeJS.ErrnoException).code ?? 'error'})`)
  }
}

export const printJson = (document: unknown): void => {
  process.stdout.write(`${JSON.stringify(document, null, 2)}\n`)
}
