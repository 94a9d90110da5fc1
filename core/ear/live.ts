import type { ExpectedNote } from '../music/passage'
import { wrongCost } from './align'
import { DEFAULT_EAR, matchWindowMs, wrongWindowMs, type EarParameters } from './parameters'

/** A mark to set at a written note, provisional until its round has ended. */
export interface LiveMark {
  round: number
  /** Index into the round's expected notes. */
  index: number
  outcome: 'right' | 'wrong' | 'missed'
  playedPitch: number | null
  deviationMs: number | null
}

/** One time through the loop: its notes are due at `startMs + onsetMs`. */
export interface Round { round: number, startMs: number, expected: readonly ExpectedNote[], beatMs: number }

export interface LiveEar {
  addRound: (round: Round) => void
  /** Decides on one struck key; gives the marks that change. */
  hear: (pitch: number, atMs: number) => LiveMark[]
  /** Marks as missed what can no longer come at `nowMs`. */
  settle: (nowMs: number) => LiveMark[]
  /** Which round each struck key belongs to, in the order heard: its note's, or by time for an extra one. */
  roundOf: (stroke: number) => number
}

interface Due { round: number, index: number, pitch: number, atMs: number, beatMs: number, outcome?: LiveMark['outcome'], stroke?: number }

/**
 * An ear that follows rounds of a loop on one time line and decides on each key the moment it is struck. The work
 * for a key depends on how many notes are due around it, never on how much was played before. An early first note
 * of the next round is known as such, because the rounds lie on one line.
 */
export function createLiveEar(ear: EarParameters = DEFAULT_EAR): LiveEar {
  const due: Due[] = []
  const rounds: Round[] = []
  const strokes: { pitch: number, atMs: number, round: number }[] = []
  let settled = 0

  const mark = (note: Due): LiveMark => {
    const stroke = note.stroke === undefined ? undefined : strokes[note.stroke]!
    return {
      round: note.round, index: note.index, outcome: note.outcome!,
      playedPitch: stroke?.pitch ?? null, deviationMs: stroke ? stroke.atMs - note.atMs : null,
    }
  }

  const around = (atMs: number, windowMs: number) => {
    const found: Due[] = []
    for (let at = firstAfter(due, atMs - windowMs); at < due.length && due[at]!.atMs <= atMs + windowMs; at++) found.push(due[at]!)
    return found
  }

  return {
    addRound(round) {
      rounds.push(round)
      round.expected.forEach((note, index) => due.push({
        round: round.round, index, pitch: note.pitch, atMs: round.startMs + note.onsetMs, beatMs: round.beatMs,
      }))
    },

    hear(pitch, atMs) {
      const stroke = strokes.length
      strokes.push({ pitch, atMs, round: roundAt(rounds, atMs) })
      const beatMs = rounds.at(-1)?.beatMs ?? 600
      const claim = (note: Due, outcome: 'right' | 'wrong') => {
        note.outcome = outcome
        note.stroke = stroke
        strokes[stroke]!.round = note.round
        return [mark(note)]
      }
      const near = (candidates: Due[], cost: (note: Due) => number) =>
        candidates.reduce<Due | undefined>((best, note) => !best || cost(note) < cost(best) ? note : best, undefined)
      // A note already taken by a wrong key may still be put right by its own key.
      const same = near(around(atMs, matchWindowMs(ear, beatMs)).filter(note => note.pitch === pitch && note.outcome !== 'right'), note => Math.abs(note.atMs - atMs))
      if (same) return claim(same, 'right')
      const windowMs = wrongWindowMs(ear, beatMs)
      const other = near(around(atMs, windowMs).filter(note => note.outcome === undefined), note =>
        wrongCost({ pitch: note.pitch, onsetMs: note.atMs }, { pitch, onsetMs: atMs }, windowMs))
      return other ? claim(other, 'wrong') : []
    },

    settle(nowMs) {
      const marks: LiveMark[] = []
      while (settled < due.length) {
        const note = due[settled]!
        if (note.atMs + matchWindowMs(ear, note.beatMs) > nowMs) break
        if (note.outcome === undefined) {
          note.outcome = 'missed'
          marks.push(mark(note))
        }
        settled++
      }
      return marks
    },

    roundOf: stroke => strokes[stroke]!.round,
  }
}

/** The round that a moment belongs to: a quarter of a beat before a round begins is already its own. */
function roundAt(rounds: readonly Round[], atMs: number): number {
  return (rounds.findLast(round => round.startMs - round.beatMs / 4 <= atMs) ?? rounds[0])?.round ?? 0
}

function firstAfter(due: readonly Due[], atMs: number): number {
  let low = 0
  let high = due.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (due[middle]!.atMs < atMs) low = middle + 1
    else high = middle
  }
  return low
}
