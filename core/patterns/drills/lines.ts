import { Chord, Note, Scale } from 'tonal'
import type { Hand } from '../../music/arrangement'
import type { MidiPitch } from '../../music/pitch'
import type { DrillKey } from './keys'
import { NoDrill, type LineHands, type Material, type ScaleStep } from './recipe'

/** A key to press with its name. */
export interface LineKey {
  readonly pitch: MidiPitch
  readonly spelled: string
}
/** What a hand strikes one after the other, a moment at a time, and how many beats after the other hand it begins. */
export interface Line {
  readonly moments: readonly (readonly LineKey[])[]
  readonly later: number
}

type LineMaterial = Extract<Material, { kind: 'scale' | 'five-finger' | 'arpeggio' | 'inversions' | 'sevenths' }>
export const isLineMaterial = (material: Material): material is LineMaterial =>
  ['scale', 'five-finger', 'arpeggio', 'inversions', 'sevenths'].includes(material.kind)

/** Where the lowest tonic of each hand lies: around middle C and an octave below it; of long ways lower. Own choice. */
const LOWEST: Readonly<Record<Hand, Readonly<Record<number, MidiPitch>>>> = {
  right: { 1: 60, 2: 60, 3: 48, 4: 36 },
  left: { 1: 48, 2: 36, 3: 36, 4: 24 },
}
/**
 * Hands in contrary motion begin on this tonic and the one an octave above; hands moving towards each other begin this
 * many octaves apart.
 */
const CONTRARY = { left: 48, right: 60 } as const

/** Notes of a mode in one octave, as names from the tonic. */
function namesOf(material: LineMaterial, { tonic, isMinor }: DrillKey): { up: string[]; down: string[] } {
  switch (material.kind) {
    case 'scale': {
      if (material.scale === 'chromatic') return both(Array.from({ length: 12 }, (_, step) => chromatic(tonic, step)))
      const own = scale(tonic, material.scale === 'natural minor' ? 'minor' : material.scale)
      // The melodic minor scale comes down as the natural one (common practice).
      return material.scale === 'melodic minor' ? { up: own, down: scale(tonic, 'minor') } : both(own)
    }
    case 'five-finger':
      return both(scale(tonic, material.mode === 'minor' ? 'minor' : 'major'))
    case 'sevenths':
      return both(scale(tonic, isMinor ? 'minor' : 'major'))
    case 'arpeggio':
    case 'inversions': {
      const { notes, empty } = Chord.getChord(material.chord === '' ? 'M' : material.chord, tonic)
      if (empty || notes.length > 5)
        throw new NoDrill(
          `"${material.chord.slice(0, 20)}" is not a kind of chord that can be broken; m, 7, maj7, m7, dim and the like were expected`,
        )
      return both(notes)
    }
  }
}
const both = (names: string[]) => ({ up: names, down: names })
const scale = (tonic: string, name: string): string[] => Scale.get(`${tonic} ${name}`).notes
/** A half step of the chromatic scale: with sharps in keys of sharps, with flats in keys of flats. */
const chromatic = (tonic: string, step: number): string => {
  const pitch = (Note.chroma(tonic)! + step) % 12
  const name = Note.fromMidi(60 + pitch)
  return Note.pitchClass(
    tonic.length > 1 && tonic.endsWith('#') ? Note.fromMidiSharps(60 + pitch) : step === 0 ? `${tonic}4` : name,
  )
}

/** The moments of a line as steps above its tonic, each the steps that are struck together; and where it turns back. */
function stepsOf(material: LineMaterial, size: number): { steps: number[][]; turn: number } {
  switch (material.kind) {
    case 'scale':
      return upAndBack(material.octaves * size, material.in ?? 'single')
    case 'five-finger':
      return upAndBack(4, 'single')
    case 'arpeggio':
      return upAndBack(material.octaves * size, 'single')
    case 'inversions': {
      const up = Array.from({ length: size + 1 }, (_, first) => Array.from({ length: size }, (_, note) => first + note))
      return blocks(up, material.isBroken ?? false)
    }
    case 'sevenths':
      return blocks(
        Array.from({ length: 8 }, (_, first) => [0, 2, 4, 6].map(step => first + step)),
        material.isBroken ?? false,
      )
  }
}

function upAndBack(top: number, as: ScaleStep): { steps: number[][]; turn: number } {
  const up = Array.from({ length: top + 1 }, (_, step) => step)
  const way = [...up, ...up.slice(0, -1).reverse()]
  if (as === 'broken-thirds') {
    const rise = up.slice(0, -1).flatMap(step => [[step], [step + 2]])
    return {
      steps: [
        ...rise,
        [top],
        ...up
          .slice(0, -1)
          .reverse()
          .flatMap(step => [[step + 2], [step]]),
      ],
      turn: rise.length,
    }
  }
  const above = as === 'thirds' ? [2] : as === 'sixths' ? [5] : []
  return { steps: way.map(step => [step, ...above.map(more => step + more)]), turn: top }
}

/** Blocks up and back; broken, each from its lowest note up, and back from its highest down. */
function blocks(up: number[][], isBroken: boolean): { steps: number[][]; turn: number } {
  const back = up.slice(0, -1).reverse()
  if (!isBroken) return { steps: [...up, ...back], turn: up.length - 1 }
  const [rise, fall] = [
    up.flatMap(block => block.map(step => [step])),
    back.flatMap(block => [...block].reverse().map(step => [step])),
  ]
  return { steps: [...rise, ...fall, up[0]!.slice(0, 1)], turn: rise.length - 1 }
}

/**
 * What the hands play of a line in a key, a moment at a time. Both hands play it an octave apart, from the middle
 * outward and back, from the outside in and back, or the left one after the right; blocks and broken blocks only the
 * same way. Throws NoDrill for what does not go together.
 */
export function linesIn(material: LineMaterial, hands: LineHands, key: DrillKey): Partial<Record<Hand, Line>> {
  const names = namesOf(material, key)
  const { steps, turn } = stepsOf(material, names.up.length)
  const octaves = 'octaves' in material ? material.octaves : 1
  const tonicAt = (lowest: MidiPitch) => lowest + ((Note.chroma(key.tonic)! - (lowest % 12) + 12) % 12)
  const line = (from: MidiPitch, direction: 1 | -1 = 1, begins = 0, later = 0): Line => ({
    later,
    moments: steps.map((moment, index) =>
      moment
        .map(step =>
          keyAt(index <= turn === (direction === 1) ? names.up : names.down, from, begins + direction * step),
        )
        .sort((a, b) => a.pitch - b.pitch),
    ),
  })
  const [right, left] = [tonicAt(LOWEST.right[octaves]!), tonicAt(LOWEST.left[octaves]!)]
  if (hands === 'right') return { right: line(right) }
  if (hands === 'left') return { left: line(left) }
  if (hands === 'parallel') return { right: line(right), left: line(right - 12) }
  if (hands === 'staggered') return { right: line(right), left: line(right - 12, 1, 0, 1) }
  if (
    material.kind === 'inversions' ||
    material.kind === 'sevenths' ||
    ('in' in material && material.in !== undefined && material.in !== 'single')
  )
    throw new NoDrill('only single notes go in contrary motion')
  const size = names.up.length
  const reach = material.kind === 'five-finger' ? 4 : octaves * size
  const [low, high] = [tonicAt(CONTRARY.left), tonicAt(CONTRARY.right)]
  if (hands === 'contrary') return { right: line(high), left: line(low, -1) }
  // From outside in: the right hand begins as high as it would have come, and comes down.
  return { right: line(high, -1, reach), left: line(low, 1, -reach) }
}

/** A step of a scale as a key: `step` 0 is the tonic at `from`. */
function keyAt(names: readonly string[], from: MidiPitch, step: number): LineKey {
  const size = names.length
  const name = names[((step % size) + size) % size]!
  const above = (Note.chroma(name)! - Note.chroma(names[0]!)! + 12) % 12
  const pitch = from + 12 * Math.floor(step / size) + above
  const octave = Math.floor((pitch - (Note.get(name).alt ?? 0)) / 12) - 1
  return { pitch, spelled: `${name}${octave}` }
}
