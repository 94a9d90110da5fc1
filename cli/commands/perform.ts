import { lastBars } from '#core/accompany/along'
import { accompanyTake } from '#core/accompany/conductor'
import { assessTake } from '#core/ear/assess'
import { writePerformance } from '#core/formats/midi/write-performance'
import { feltBeatMs, handsIn, tempoAt, type Arrangement, type Hands, HANDS } from '#core/music/arrangement'
import type { ClickChoice } from '#core/music/click'
import { expectedNotes, type Passage } from '#core/music/passage'
import { propose } from '#core/parts/propose'
import { performSection } from '#core/patterns/rhythm-section'
import { metersOf, STYLES } from '#core/patterns/styles'
import { renderPassage } from '#core/sound/of-score'
import { renderTake } from '#core/sound/of-take'
import { fromTimeZero, together, type RenderedScore } from '#core/sound/performance'
import { passageOf, printJson, readScoreFile, readTakeFile, VOICE_FLAGS, writeWhole } from '../files'
import { parseCommand, UsageError } from '../usage'

/** The click as asked for: whole bars, beats, the off-beats, or equal parts of each beat. */
const CLICKS: Readonly<Record<string, ClickChoice>> = {
  bars: { on: 'bars', within: 1 },
  beats: { on: 'beats', within: 1 },
  backbeats: { on: 'backbeats', within: 1 },
  eighths: { on: 'beats', within: 2 },
  triplets: { on: 'beats', within: 3 },
  sixteenths: { on: 'beats', within: 4 },
  1: { on: 'beats', within: 1 },
  2: { on: 'beats', within: 2 },
  3: { on: 'beats', within: 3 },
  4: { on: 'beats', within: 4 },
}

export function perform(args: string[]): void {
  if (args[0] === '--band' && args[1] === 'list')
    return printJson({ styles: STYLES.map(name => ({ name, meters: metersOf(name) })) })
  const flags = parseCommand(
    args,
    ['SCORE'],
    ['bpm', 'hands', 'bars', 'band', 'click', 'roles', 'from', 'exaggerate', 'follow', 'out', ...VOICE_FLAGS],
    [],
    { out: 'o' },
  )
  const style = flags.text('band') === undefined ? undefined : flags.choice('band', [...STYLES, 'list'], 'list')
  if (style === 'list') return printJson({ styles: STYLES.map(name => ({ name, meters: metersOf(name) })) })
  const out = flags.text('out')
  if (out === undefined) throw new UsageError('perform needs -o OUT.mid')
  const bpm = flags.number('bpm', 10, 400)
  const hands = flags.choice<Hands | 'none'>('hands', [...HANDS, 'none'], 'both')
  const click =
    flags.text('click') === undefined ? undefined : CLICKS[flags.choice('click', Object.keys(CLICKS), 'beats')]
  // Who names hands wants those; the song as a whole is everybody's.
  const hasRoles = flags.choice('roles', ['all', 'none'], flags.text('hands') === undefined ? 'all' : 'none') === 'all'
  const [from, follow, exaggerate] = [flags.text('from'), flags.text('follow'), flags.number('exaggerate', 0, 20)]
  if (from !== undefined && follow !== undefined)
    throw new UsageError('--from plays a take back and --follow accompanies it; only one of them can be asked for')
  if (exaggerate !== undefined && from === undefined) throw new UsageError('--exaggerate needs --from TAKE.mid')

  const score = flags.positionals[0]!
  const arrangement = readScoreFile(score, flags)
  const bars = flags.text('bars')
  const passage = passageOf(arrangement, score, bars, hands === 'none' ? 'both' : hands)
  if (from !== undefined)
    return writeWhole(out, writePerformance(playedBack(arrangement, passage, from, bpm, exaggerate), arrangement.title))
  const performance = together([
    renderPassage(
      arrangement,
      passage,
      {
        hands: hands === 'none' ? [] : handsIn(hands),
        roles: hasRoles ? arrangement.others.flatMap(({ silent }, index) => (silent ? [] : [index])) : [],
        click,
      },
      bpm,
    ),
    ...(style
      ? [
          performSection({
            arrangement,
            passage,
            style,
            bpm,
            lastBars: lastBars(
              arrangement,
              propose(arrangement).parts.map(({ to }) => to),
            ),
          }),
        ]
      : []),
  ])
  writeWhole(
    out,
    writePerformance(
      follow === undefined
        ? fromTimeZero(performance)
        : following(arrangement, { ...passage, hands: playedHands(hands) }, performance, follow, bpm),
      arrangement.title,
    ),
  )
}

/** Whom the program follows: the hand that it does not play itself. */
const playedHands = (sounding: Hands | 'none'): Hands =>
  sounding === 'left' ? 'right' : sounding === 'right' ? 'left' : 'both'

/**
 * A take as it was played, with its deviations made larger: against the click where a tempo is given, otherwise against
 * its own tempo.
 */
function playedBack(
  arrangement: Arrangement,
  passage: Passage,
  path: string,
  bpm: number | undefined,
  exaggerate = 1,
): RenderedScore {
  const take = readTakeFile(path)
  const deviations = new Map<number, number>()
  if (exaggerate !== 1) {
    for (const { played, deviationMs } of assessTake({
      arrangement,
      passage,
      take,
      mode: bpm === undefined ? 'free' : 'steady',
      bpm,
    }).notes) {
      if (played !== null && deviationMs !== null) deviations.set(played, deviationMs)
    }
  }
  return renderTake(take, {
    bpm: bpm ?? tempoAt(arrangement, passage.stretches[0]!.from),
    exaggerate,
    deviationOf: played => deviations.get(played),
  })
}

/** What would have sounded beside a take, as the program goes with the player. */
function following(
  arrangement: Arrangement,
  passage: Passage,
  performance: RenderedScore,
  path: string,
  bpm?: number,
): RenderedScore {
  const take = readTakeFile(path)
  const begin = passage.stretches[0]!.from
  const events = accompanyTake(
    {
      expected: expectedNotes(arrangement, passage, bpm),
      bars: arrangement.bars,
      accompaniment: performance.events,
      isTempoTold: bpm !== undefined,
      beatMs: feltBeatMs(arrangement, begin, bpm),
    },
    take,
  )
  return { ...performance, events, pedals: [], tempos: [{ atMs: 0, quarterBpm: bpm ?? tempoAt(arrangement, begin) }] }
}
