import type { DynamicMark, PedalMark, TempoMark } from '../../music/arrangement'
import { add, compare, quarters, ZERO, type Quarters } from '../../music/quarters'
import { LIMITS } from '../limits'
import type { Warnings } from './warnings'
import { child, children, textOf, type XmlElement } from './xml'

export interface DirectionMarks {
  tempos: TempoMark[]
  pedals: PedalMark[]
  dynamics: (DynamicMark & { staff: number })[]
  rehearsals: { onset: Quarters, name: string }[]
}

const BEAT_UNITS: Record<string, number> = { 'whole': 4, 'half': 2, 'quarter': 1, 'eighth': 0.5, '16th': 0.25 }
const PEDAL_KINDS: Record<string, PedalMark['kind']> = { start: 'down', stop: 'up', change: 'change' }
const JUMPS: Record<string, string> = { dacapo: 'D.C.', dalsegno: 'D.S.', tocoda: 'To Coda', fine: 'Fine' }

/** Tempo, pedal, dynamics and rehearsal marks of a <direction> that stands at `cursor` in its bar. */
export function readDirection(element: XmlElement, cursor: Quarters, divisions: number, place: string, warnings: Warnings, label: string): DirectionMarks {
  const offset = Math.round(Number(textOf(element, 'offset') || 0)) || 0
  const moved = add(cursor, Math.abs(offset) > 1e6 ? ZERO : quarters(offset, Math.max(1, Math.round(divisions))))
  const onset = compare(moved, ZERO) < 0 ? ZERO : moved
  const staff = Number(textOf(element, 'staff') || 0)
  const marks: DirectionMarks = { tempos: [], pedals: [], dynamics: [], rehearsals: [] }
  for (const type of children(element, 'direction-type').flatMap(one => one.children)) {
    if (type.name === 'dynamics') marks.dynamics.push(...type.children.map(one => ({ onset, mark: one.name, staff })))
    else if (type.name === 'wedge') marks.dynamics.push({ onset, mark: type.attributes.type === 'stop' ? 'wedge end' : type.attributes.type ?? 'wedge', staff })
    else if (type.name === 'pedal') {
      const kind = PEDAL_KINDS[type.attributes.type ?? '']
      if (kind) marks.pedals.push({ onset, kind })
      else if (type.attributes.type !== 'continue') warnings.note(`a pedal mark "${type.attributes.type ?? ''}" is not used`, label)
    }
    else if (type.name === 'rehearsal') marks.rehearsals.push({ onset, name: type.text.trim().slice(0, LIMITS.textLength) })
    else if (type.name === 'metronome' && !child(element, 'sound')?.attributes.tempo) {
      const tempo = metronomeTempo(type)
      if (tempo) marks.tempos.push({ onset, quarterBpm: tempo })
      else warnings.note('a metronome mark without a plain number is not used', label)
    }
  }
  const sound = child(element, 'sound')
  if (sound) {
    const tempo = Number(sound.attributes.tempo ?? Number.NaN)
    if (tempo >= 5 && tempo <= 1000) marks.tempos.push({ onset, quarterBpm: tempo })
    else if (sound.attributes.tempo !== undefined) warnings.note(`a tempo of "${sound.attributes.tempo.slice(0, 20)}" is not used`, label)
    for (const [attribute, words] of Object.entries(JUMPS)) {
      if (sound.attributes[attribute] !== undefined) warnings.note(`${words} is engraved but the playing order does not follow it`, label)
    }
    if (child(sound, 'swing')) warnings.note('a swing setting is not used; the rhythm is taken as written', label)
  }
  return marks
}

function metronomeTempo(metronome: XmlElement): number | undefined {
  const unit = BEAT_UNITS[textOf(metronome, 'beat-unit')]
  const perMinute = Number.parseFloat(textOf(metronome, 'per-minute').replace(/^[^\d]*/, ''))
  if (!unit || children(metronome, 'beat-unit').length !== 1) return undefined
  const dots = children(metronome, 'beat-unit-dot').length
  const quarterBpm = perMinute * unit * (2 - 0.5 ** dots)
  return quarterBpm >= 5 && quarterBpm <= 1000 ? quarterBpm : undefined
}
