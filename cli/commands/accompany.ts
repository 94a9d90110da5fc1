import { moved, withHandExchanged } from '#core/formats/arranged'
import type { ReadSong } from '#core/formats/read-score'
import { UnusableInput } from '#core/formats/unusable'
import type { Hand } from '#core/music/arrangement'
import { barsPassage, type ScoreSpan } from '#core/music/passage'
import { metersOfHand, type HandPattern } from '#core/patterns/hand-pattern'
import { HAND_PATTERNS } from '#core/patterns/hand-patterns'
import { patternDifficulty } from '#core/patterns/pattern-difficulty'
import { checkEnding, patternOf, printJson, readSongFile, VOICE_FLAGS, writeSong } from '../files'
import { parseCommand, UsageError } from '../usage'

/** A chart or score with one hand's notes from a pattern over its chords. */
export function accompany(args: string[]): void {
  if (args.includes('--list')) return printJson({ patterns: HAND_PATTERNS.map(listed) })
  const flags = parseCommand(
    args,
    ['CHART|SCORE'],
    ['pattern', 'hand', 'transpose', 'from', 'to', 'reach', 'out', ...VOICE_FLAGS],
    [],
    { out: 'o' },
  )
  const [path, name, out] = [flags.positionals[0]!, flags.text('pattern'), flags.text('out')]
  if (name === undefined) throw new UsageError('accompany needs --pattern NAME; --list names them')
  if (out === undefined) throw new UsageError('accompany needs -o OUT')
  checkEnding(out)
  const pattern = patternOf(name)
  const hand = flags.choice<Hand>('hand', ['left', 'right'], 'left')
  const halfSteps = flags.number('transpose', -24, 24) ?? 0
  const [from, to] = [flags.number('from', 0, 99_999), flags.number('to', 0, 99_999)]
  const reach = flags.number('reach', 7, 19)
  const isWhole = from === undefined && to === undefined
  const song = readSongFile(path, flags, isWhole ? { patterns: { [hand]: pattern } } : {})
  // A chart has taken the pattern in as it was read.
  const accompanied =
    song.format === 'chord chart' && isWhole && reach === undefined
      ? song
      : {
          ...song,
          ...inItsFile(path, () =>
            withHandExchanged(song, { pattern, hand, reach, stretch: stretchOf(song, path, from, to) }),
          ),
        }
  writeSong(
    out,
    halfSteps === 0
      ? accompanied
      : { ...accompanied, ...inItsFile(path, () => moved(accompanied, Math.round(halfSteps))) },
  )
}

function listed(pattern: HandPattern) {
  return {
    name: pattern.name,
    meters: metersOfHand(pattern),
    hands: pattern.hands,
    difficulty: Math.round(patternDifficulty(pattern).level * 10) / 10,
  }
}

function stretchOf({ arrangement }: ReadSong, path: string, from?: number, to?: number): ScoreSpan | undefined {
  if (from === undefined && to === undefined) return undefined
  return inItsFile(path, () => {
    try {
      return barsPassage(arrangement, from ?? 0, to ?? 99_999, 'both').stretches[0]!
    } catch (error) {
      if (error instanceof RangeError) throw new UnusableInput('', error.message)
      throw error
    }
  })
}

/** Errors about a file name the file. */
function inItsFile<T>(path: string, make: () => T): T {
  try {
    return make()
  } catch (error) {
    if (error instanceof UnusableInput) throw new UnusableInput(path, error.message)
    throw error
  }
}
