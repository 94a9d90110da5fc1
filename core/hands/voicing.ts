import { Note } from 'tonal'
import type { MidiPitch } from '../music/pitch'
import { leadVoices, movement } from './voice-leading'

/** Where a hand plays chords, and how many notes it takes. Own choice around common practice: close chords muddy below about C3, and the bass is the other hand's. */
export const VOICING = {
  lowest: 55, highest: 79, centre: 66, awayFromCentre: 0.15,
  mostNotes: 4,
  /** A second at the top or bottom of a chord is harsh: costs so much. */
  harsh: 0.6,
} as const

/**
 * The inversions that lead from chord to chord with the least movement, for the right hand: for each chord (its notes as names, root
 * first) the pitches from low to high. Chords of more than four notes leave out the fifth, then the root (common practice).
 */
export function voiceChords(chords: readonly (readonly string[])[]): MidiPitch[][] {
  const choices = chords.map(notes => inversionsInRange(thinned(notes)))
  let ways: { cost: number, path: number[] }[] = (choices[0] ?? []).map((pitches, index) => ({ cost: ownCost(pitches), path: [index] }))
  for (let place = 1; place < choices.length; place++) {
    ways = choices[place]!.map((pitches, index) => {
      let best = { cost: Number.POSITIVE_INFINITY, path: [] as number[] }
      ways.forEach((way, before) => {
        const cost = way.cost + movement(leadVoices(choices[place - 1]![before]!, pitches))
        if (cost < best.cost) best = { cost, path: way.path }
      })
      return { cost: best.cost + ownCost(pitches), path: [...best.path, index] }
    })
  }
  const best = ways.reduce((least, way) => way.cost < least.cost ? way : least, ways[0] ?? { cost: 0, path: [] })
  return choices.map((inversions, place) => inversions[best.path[place]!] ?? [])
}

function thinned(notes: readonly string[]): string[] {
  const kept = [...notes]
  const isFifth = (note: string) => (Note.get(note).step - Note.get(notes[0]!).step + 7) % 7 === 4
  while (kept.length > VOICING.mostNotes) {
    const fifth = kept.findIndex(isFifth)
    kept.splice(fifth > 0 ? fifth : 0, 1)
  }
  return kept
}

function inversionsInRange(notes: readonly string[]): MidiPitch[][] {
  const chroma = [...new Set(notes.map(note => Note.chroma(note)))].filter((one): one is number => one !== undefined && !Number.isNaN(one))
  const found: MidiPitch[][] = []
  for (let bottom = VOICING.lowest; bottom < VOICING.lowest + 24; bottom++) {
    if (!chroma.includes(bottom % 12)) continue
    const pitches = chroma.map(one => bottom + ((one - bottom % 12) + 12) % 12).sort((a, b) => a - b)
    if (pitches.at(-1)! <= VOICING.highest) found.push(pitches)
  }
  return found
}

function ownCost(pitches: readonly MidiPitch[]): number {
  const mean = pitches.reduce((sum, pitch) => sum + pitch, 0) / pitches.length
  const seconds = pitches.filter((pitch, index) => index > 0 && pitch - pitches[index - 1]! === 1 && (index === 1 || index === pitches.length - 1)).length
  return Math.abs(mean - VOICING.centre) * VOICING.awayFromCentre + seconds * VOICING.harsh
}
