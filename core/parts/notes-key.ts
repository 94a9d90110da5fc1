import { sha256 } from '@noble/hashes/sha2.js'
import { bytesToHex, utf8ToBytes } from '@noble/hashes/utils.js'
import type { Arrangement, Hands } from '../music/arrangement'
import type { ScoreSpan } from '../music/passage'
import { handSignature } from './hand-part'

/** Changed when the text under the key changes: keys of another edition are computed again. */
const EDITION = 1

/**
 * A short name for the notes of a stretch and the hands that play them, counted from the bar line: twins in a song, the
 * same place in another version of it and after an edit elsewhere have the same key; one note changed gives another.
 * What was learned goes by it.
 */
export function notesKey(arrangement: Arrangement, stretch: ScoreSpan, hands: Hands): string {
  const of = (hand: 'right' | 'left') =>
    hands === 'both' || hands === hand ? handSignature(arrangement, stretch, hand) : ''
  return `${EDITION}${bytesToHex(sha256(utf8ToBytes(`${hands}|${of('right')}|${of('left')}`))).slice(0, 32)}`
}
