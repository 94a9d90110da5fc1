import { tempoAt, type Arrangement, type Hands, HANDS } from '#core/music/arrangement'
import { expectedNotes, spanPassage, type ScoreSpan } from '#core/music/passage'
import {
  formOf,
  likenessOf,
  newMaterialShare,
  saidLikeness,
  type Likeness,
  type OwnLikeness,
} from '#core/parts/likeness'
import { notesKey } from '#core/parts/notes-key'
import { describeStretch } from '#core/words/places'

/** A part as it is kept, for what its notes say. */
export interface NotedPart {
  name: string
  stretch: ScoreSpan
  ownLikeness: OwnLikeness
}

/** What the notes of a song and of its parts say, independent of the player and their progress. */
export function songNotes(arrangement: Arrangement, parts: readonly NotedPart[]) {
  const named = parts.map(({ name, stretch }) => ({ name, ...stretch }))
  const likeness = {
    right: likenessOf(arrangement, named, 'right', saidLikeness(parts, 'right')),
    left: likenessOf(arrangement, named, 'left', saidLikeness(parts, 'left')),
  }
  const shown = ({ relation, like, covers, transposedBy, stepsInKey, differs }: Likeness) => ({
    relation,
    like,
    covers,
    transposedBy,
    stepsInKey,
    differs,
  })
  const { bars } = arrangement
  return {
    form: formOf(named, likeness.right, likeness.left),
    newMaterialShare: { right: newMaterialShare(likeness.right), left: newMaterialShare(likeness.left) },
    bars: bars.length,
    firstBar: bars[0]!.number,
    lastBar: bars.at(-1)!.number,
    targetBpm: tempoAt(arrangement, bars[0]!.start),
    meter: bars[0]!.meter,
    fifths: bars[0]!.fifths,
    warnings: arrangement.warnings,
    parts: parts.map(({ stretch }, place) => ({
      place: describeStretch(arrangement, stretch),
      likeness: { right: shown(likeness.right[place]!), left: shown(likeness.left[place]!) },
      writtenBpm: tempoAt(arrangement, stretch.from),
      notes: {
        right: expectedNotes(arrangement, spanPassage(stretch.from, stretch.to, 'right')).length,
        left: expectedNotes(arrangement, spanPassage(stretch.from, stretch.to, 'left')).length,
      },
      keys: Object.fromEntries(HANDS.map(hands => [hands, notesKey(arrangement, stretch, hands)])) as Record<
        Hands,
        string
      >,
    })),
  }
}

export type SongNotes = ReturnType<typeof songNotes>
