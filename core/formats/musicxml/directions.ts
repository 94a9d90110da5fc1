import type { Bar, DynamicMark, PedalMark, SwingMark, TempoMark, TempoWord } from '../../music/arrangement'
import { add, compare, quarters, ZERO, type Quarters } from '../../music/quarters'
import { LIMITS } from '../../music/limits'
import type { Warnings } from './warnings'
import { child, children, textOf, type XmlElement } from './xml'

export interface DirectionMarks {
  tempos: TempoMark[]
  pedals: PedalMark[]
  dynamics: (DynamicMark & { staff: number })[]
  rehearsals: { onset: Quarters; name: string }[]
  swings: SwingMark[]
  tempoWords: TempoWord[]
  jumps: JumpMark
}

const BEAT_UNITS: Record<string, number> = { whole: 4, half: 2, quarter: 1, eighth: 0.5, '16th': 0.25 }
const PEDAL_KINDS: Record<string, PedalMark['kind']> = { start: 'down', stop: 'up', change: 'change' }
/** What a sound's attributes say of the way through the score. */
const JUMP_SOUNDS: Record<string, JumpMark> = {
  dacapo: { jump: 'da capo' },
  dalsegno: { jump: 'dal segno' },
  tocoda: { toCoda: true },
  fine: { fine: true },
  segno: { segno: true },
  coda: { coda: true },
}
/** The same in words and signs, for files whose <sound> does not say it. */
const JUMP_WORDS: [RegExp, JumpMark][] = [
  [/^\s*(d\. ?c\.|da capo)/i, { jump: 'da capo' }],
  [/^\s*(d\. ?s\.|dal segno)/i, { jump: 'dal segno' }],
  [/^\s*to (the )?coda/i, { toCoda: true }],
  [/^\s*fine\b/i, { fine: true }],
]
export type JumpMark = Pick<Bar, 'segno' | 'coda' | 'toCoda' | 'fine' | 'jump'>

/** When something counts that stands at `cursor` and has an <offset>. */
export function withOffset(element: XmlElement, cursor: Quarters, divisions: number): Quarters {
  const offset = Math.round(Number(textOf(element, 'offset') || 0)) || 0
  const moved = add(cursor, Math.abs(offset) > 1e6 ? ZERO : quarters(offset, Math.max(1, Math.round(divisions))))
  return compare(moved, ZERO) < 0 ? ZERO : moved
}

/** Tempo, pedal, dynamics and rehearsal marks of a <direction> that stands at `cursor` in its bar. */
export function readDirection(
  element: XmlElement,
  cursor: Quarters,
  divisions: number,
  place: string,
  warnings: Warnings,
  label: string,
): DirectionMarks {
  const onset = withOffset(element, cursor, divisions)
  const staff = Number(textOf(element, 'staff') || 0)
  const marks: DirectionMarks = {
    tempos: [],
    pedals: [],
    dynamics: [],
    rehearsals: [],
    swings: [],
    tempoWords: [],
    jumps: {},
  }
  for (const type of children(element, 'direction-type').flatMap(one => one.children)) {
    if (type.name === 'dynamics') marks.dynamics.push(...type.children.map(one => ({ onset, mark: one.name, staff })))
    else if (type.name === 'wedge')
      marks.dynamics.push({
        onset,
        mark: type.attributes.type === 'stop' ? 'wedge end' : (type.attributes.type ?? 'wedge'),
        staff,
      })
    else if (type.name === 'pedal') {
      const kind = PEDAL_KINDS[type.attributes.type ?? '']
      if (kind) marks.pedals.push({ onset, kind })
      else if (type.attributes.type !== 'continue')
        warnings.note({ kind: 'pedal', name: (type.attributes.type ?? '').slice(0, 20) }, label)
    } else if (type.name === 'rehearsal')
      marks.rehearsals.push({ onset, name: type.text.trim().slice(0, LIMITS.textLength) })
    else if (type.name === 'words') {
      const kind = TEMPO_WORDS.find(([pattern]) => pattern.test(type.text))?.[1]
      const jump = JUMP_WORDS.find(([pattern]) => pattern.test(type.text))?.[1]
      if (jump) Object.assign(marks.jumps, jump)
      else if (kind) marks.tempoWords.push({ onset, kind })
      else if (SWING_WORDS.test(type.text) && !child(child(element, 'sound'), 'swing'))
        marks.swings.push({ onset, unit: 'eighth' })
    } else if (type.name === 'segno' || type.name === 'coda') Object.assign(marks.jumps, JUMP_SOUNDS[type.name])
    else if (type.name === 'metronome' && !child(element, 'sound')?.attributes.tempo) {
      const tempo = metronomeTempo(type)
      if (tempo) marks.tempos.push({ onset, quarterBpm: tempo })
      else warnings.note({ kind: 'metronome' }, label)
    }
  }
  const sound = child(element, 'sound')
  if (sound) {
    const tempo = Number(sound.attributes.tempo ?? Number.NaN)
    if (tempo >= 5 && tempo <= 1000) marks.tempos.push({ onset, quarterBpm: tempo })
    else if (sound.attributes.tempo !== undefined)
      warnings.note({ kind: 'tempo', name: sound.attributes.tempo.slice(0, 20) }, label)
    for (const [attribute, mark] of Object.entries(JUMP_SOUNDS))
      if (sound.attributes[attribute] !== undefined) Object.assign(marks.jumps, mark)
    const swing = child(sound, 'swing')
    if (swing) {
      const mark = readSwing(swing, onset)
      if (mark) marks.swings.push(mark)
      else warnings.note({ kind: 'swing' }, label)
    }
  }
  return marks
}

/** Words that change the tempo on purpose (common practice). */
const TEMPO_WORDS: [RegExp, TempoWord['kind']][] = [
  [/\ba tempo\b|\btempo (primo|i|1)\b/i, 'back'],
  [/\b(poco )?(rit|rall|allarg|slentando|calando|morendo|meno mosso)|\bslow(ing|er| down)\b/i, 'slower'],
  [/\b(accel|string|stretto|pi[uù] mosso)|\bfaster\b/i, 'faster'],
]
const SWING_WORDS = /^(?!.*\bas written\b).*\b(swing|swung|shuffle)\b/i

/** MusicXML's <swing>: `first` to `second`, or <straight>. */
function readSwing(element: XmlElement, onset: Quarters): SwingMark | undefined {
  const unit = textOf(element, 'swing-type') === '16th' ? ('16th' as const) : ('eighth' as const)
  if (child(element, 'straight')) return { onset, unit, ratio: 1 }
  const ratio = Number(textOf(element, 'first')) / Number(textOf(element, 'second'))
  return ratio >= 1 && ratio <= 5 ? { onset, unit, ratio } : undefined
}

function metronomeTempo(metronome: XmlElement): number | undefined {
  const unit = BEAT_UNITS[textOf(metronome, 'beat-unit')]
  const perMinute = Number.parseFloat(textOf(metronome, 'per-minute').replace(/^[^\d]*/, ''))
  if (!unit || children(metronome, 'beat-unit').length !== 1) return undefined
  const dots = children(metronome, 'beat-unit-dot').length
  const quarterBpm = perMinute * unit * (2 - 0.5 ** dots)
  return quarterBpm >= 5 && quarterBpm <= 1000 ? quarterBpm : undefined
}
