import type { ShownStage } from '../coach/stairs'
import { dottedBeats, plural, tempoFigure, tempoText } from './amounts'
import { placeWords, stretchText } from './places'

type Told = Pick<
  ShownStage,
  'isDone' | 'isOpen' | 'treads' | 'wantedBpm' | 'meter' | 'spot' | 'ownTime' | 'gate' | 'passes' | 'gates' | 'mended'
>

/**
 * Where the player stands with a hand of a part: "ready at 64 bpm", "at 72 bpm, 1 of 2 clean in a row". `from`: where
 * else the same notes were learned.
 */
export function stageText(
  { isDone, isOpen, treads, wantedBpm, meter, spot, ownTime, gate }: Told,
  from?: string,
): string {
  const learned = from ? `, learned in ${from}` : ''
  if (isDone)
    return `Ready at ${tempoText(treads.findLast(tread => tread.isReached)?.bpm ?? wantedBpm, meter)}${learned}`
  if (!isOpen) return 'Comes after each hand alone'
  if (spot) return `Hard spot: ${stretchText(spot.place)}, at ${tempoText(spot.bpm, meter)}${learned}`
  if (ownTime) return `In your own time, ${ownTime.inARow} of ${ownTime.gate} without a wrong key${learned}`
  const here = treads.find(tread => tread.isHere)?.bpm
  const at = here === undefined ? 'Not started' : `At ${tempoText(here, meter)}`
  return gate
    ? `${at}, ${gate.inARow} of ${gate.of} clean in a row${learned}`
    : `${at}${here === undefined ? '' : ', not started'}${learned}`
}

/**
 * How many passes each step took: "43 bpm after 16 passes, 64 after 1 more". Nothing where no step was reached by
 * playing.
 */
export function gatesText({ gates, meter }: Told): string {
  const steps = new Map<string, number>()
  for (const { bpm, passes } of gates)
    steps.set(tempoFigure(bpm, meter), (steps.get(tempoFigure(bpm, meter)) ?? 0) + passes)
  const counted = [...steps].filter(([, passes]) => passes > 0)
  const beats = dottedBeats(meter)
  const [first, ...more] = counted.map(([bpm, passes], index) =>
    index === 0
      ? `${bpm} ${beats ? `${beats} a minute` : 'bpm'} after ${plural(passes, 'pass', 'passes')}`
      : `${bpm} after ${passes} more`,
  )
  return first === undefined ? '' : [first, ...more].join(', ')
}

/** Which hard spots are not any more: "Hard spots fixed: bar 3; bar 5, beat 2". */
export const mendedText = ({ mended }: Told): string =>
  mended.length === 0
    ? ''
    : `${mended.length === 1 ? 'Hard spot' : 'Hard spots'} fixed: ${mended.map(placeWords).join('; ')}`

/** How many parts are ready: "3 of 4 parts ready". `ready` are those that are together at the tempo asked for. */
export const readyText = (ready: number, parts: number): string =>
  ready === parts
    ? parts === 1
      ? 'ready'
      : parts === 2
        ? 'both parts ready'
        : `all ${parts} parts ready`
    : `${ready} of ${plural(parts, 'part')} ready`
