import { EACH_HAND } from '#core/music/arrangement'
import { Note } from 'tonal'
import { fingerPart } from '../../hands/part-fingering'
import { TABLE_REACH } from '../../hands/ergonomics'
import { withinHold } from '../../hands/reach'
import { arrange, type HandNote } from '../../music/arrange'
import { handsIn, type Arrangement, type Hand, type Note as WrittenNote } from '../../music/arrangement'
import { spellSymbol } from '../../music/chord-symbol'
import { LIMITS } from '../../music/limits'
import { barLength, isCompound, type Meter } from '../../music/meter'
import type { ScoreSpan } from '../../music/passage'
import { isOnKeyboard } from '../../music/pitch'
import { add, compare, later, multiply, quarters, subtract, toDecimal, ZERO, type Quarters } from '../../music/quarters'
import { chordOfNumeral } from '../../music/roman-numeral'
import type { Harmony } from '../../music/song-harmony'
import { nameMoved, spelledAs, symbolMoved } from '../../music/transpose'
import type { HandPattern } from '../hand-pattern'
import { handPatternNamed } from '../hand-patterns'
import { harmonyIndexAt } from '../placed'
import { playPattern } from '../play-pattern'
import { checkMeter, NoPattern, spelledBy } from '../with-pattern'
import { drillKeys, type DrillKey } from './keys'
import { isLineMaterial, linesIn, type Line } from './lines'
import { NoDrill, type DrillRecipe, type Material } from './recipe'
import { inRhythm } from './rhythm'

/** A key of a drill and where it is played. */
export interface DrillPart extends ScoreSpan, DrillKey {
  readonly isDouble?: boolean
}
/** A drill: an arrangement, and the stretches of it that are practised one by one. */
export interface Drill {
  readonly arrangement: Arrangement
  readonly parts: readonly DrillPart[]
}

/** The notes of a drill in one key, from 0, with the chords that stand over them; `length`: whole bars. */
interface Unit {
  readonly notes: readonly HandNote[]
  readonly chords: readonly Harmony[]
  readonly length: Quarters
}

export interface DrillChoices {
  /** From thumb to little finger, half steps. */
  reach?: number
}

/**
 * A drill made from its recipe: the material in one key after the other, each a part of its own under its signature,
 * with fingers. The same recipe makes the same drill. Throws NoDrill for what does not go together or is more than a
 * song may hold.
 */
export function makeDrill(recipe: DrillRecipe, { reach = TABLE_REACH }: DrillChoices = {}): Drill {
  const keys = drillKeys(recipe.keys, isMinor(recipe.material))
  const bar = barLength(recipe.meter)
  const [notes, chords, parts] = [[] as HandNote[], [] as Harmony[], [] as DrillPart[]]
  let start = ZERO
  for (const key of keys) {
    for (const isDouble of recipe.doubleTime ? [false, true] : [false]) {
      const unit = isDouble ? doubled(unitIn(recipe, key, reach), bar) : unitIn(recipe, key, reach)
      const end = add(start, unit.length)
      if (toDecimal(end) / toDecimal(bar) > LIMITS.bars || notes.length + unit.notes.length > LIMITS.notes)
        throw new NoDrill(`the drill would be longer than ${LIMITS.bars} bars or ${LIMITS.notes} notes`)
      for (const note of unit.notes) notes.push({ ...note, onset: add(start, note.onset), end: add(start, note.end) })
      for (const chord of unit.chords)
        chords.push({ ...chord, onset: add(start, chord.onset), end: add(start, chord.end) })
      parts.push({ ...key, from: start, to: end, ...(isDouble ? { isDouble } : {}) })
      start = end
    }
  }
  if (notes.length === 0) throw new NoDrill('nothing would be played')
  if (!notes.every(({ pitch }) => isOnKeyboard(pitch))) throw new NoDrill('some notes would leave the 88 keys')
  const arrangement = arrange(
    {
      title: recipe.title,
      meters: [{ at: ZERO, meter: recipe.meter }],
      fifths: parts[0]!.fifths,
      keyChanges: parts.map(({ from, fifths }) => ({ at: from, fifths })),
      pickup: ZERO,
      tempos: [{ onset: ZERO, quarterBpm: recipe.bpm }],
      sectionEnds: parts.map(({ to }) => to),
      end: start,
      chords: chords.map(({ onset, symbol, name, inversion, bass, notes: names }) => ({
        onset,
        symbol,
        name,
        inversion,
        bass,
        notes: names,
      })),
      ...(recipe.swing && recipe.swing > 1 ? { swing: { unit: 'eighth' as const, ratio: recipe.swing } } : {}),
    },
    notes,
  )
  return { arrangement: withFingers(arrangement, parts, reach), parts }
}

/** Whether the keys of a material are minor ones. */
export const isMinor = (material: Material): boolean =>
  material.kind === 'scale'
    ? material.scale.endsWith('minor')
    : material.kind === 'five-finger'
      ? material.mode === 'minor'
      : material.kind === 'arpeggio' || material.kind === 'inversions'
        ? /^(m(?!aj|M)|dim)/.test(material.chord)
        : false

/** A felt beat, in quarter notes. */
const beatOf = (meter: Meter): Quarters =>
  isCompound(meter) ? quarters(12, meter.beatType) : quarters(4, meter.beatType)

function unitIn(recipe: DrillRecipe, key: DrillKey, reach: number): Unit {
  const { material } = recipe
  if (isLineMaterial(material)) return lineUnit(recipe, linesIn(material, recipe.hands ?? 'right', key), reach)
  switch (material.kind) {
    case 'against':
      return againstUnit(recipe, material, key)
    case 'progression':
      return chordUnit(
        recipe,
        wholeBars(
          material.degrees.map(degree => symbolOf(degree, key)),
          barLength(recipe.meter),
        ),
        reach,
      )
    case 'chords':
      return chordUnit(
        recipe,
        {
          ...material,
          chords: material.chords.map(chord => ({
            ...chord,
            symbol: symbolMoved(chord.symbol, key.fifths - material.fifths),
          })),
        },
        reach,
      )
    case 'chart':
      throw new NoDrill('a chart is read before it is drilled')
    case 'passage':
      return passageUnit(recipe, material, key, reach)
  }
}

/** Errors about a degree or chord name the recipe. */
function understood<T>(understand: () => T): T {
  try {
    return understand()
  } catch (error) {
    if (error instanceof RangeError) throw new NoDrill(error.message)
    throw error
  }
}
const symbolOf = (degree: string, key: DrillKey): string =>
  understood(() => chordOfNumeral(degree, key.tonic, key.isMinor))
const spelled = (symbol: string) => understood(() => spellSymbol(symbol))

/** Up to the next bar line. */
const toBarLine = (at: Quarters, bar: Quarters): Quarters =>
  multiply(bar, quarters(Math.max(1, Math.ceil(toDecimal(at) / toDecimal(bar) - 1e-9))))

/** A line of each hand in the recipe's rhythm; the last note lasts to the bar line. */
function lineUnit(
  { meter, division, rhythm = 'as-it-is', material }: DrillRecipe,
  lines: Partial<Record<Hand, Line>>,
  reach: number,
): Unit {
  const beat = beatOf(meter)
  const isStruck = (material.kind === 'inversions' || material.kind === 'sevenths') && !material.isBroken
  const value = multiply(beat, quarters(1, division ?? (isStruck ? 1 : isCompound(meter) ? 3 : 2)))
  const notes = (Object.entries(lines) as [Hand, Line][]).flatMap(([hand, line]) => {
    const timed = inRhythm(line.moments.length, value, beat, rhythm)
    return withinReach(
      timed.flatMap(({ moments, at, length, isAccented }, index): HandNote[] => {
        // Struck together, a key is struck once.
        const keys = new Map(moments.flatMap(moment => line.moments[moment]!).map(key => [key.pitch, key]))
        const onset = add(at, multiply(beat, quarters(line.later)))
        const end = index === timed.length - 1 ? toBarLine(add(onset, length), barLength(meter)) : add(onset, length)
        return [...keys.values()].map(({ pitch, spelled }) => ({
          hand,
          onset,
          end,
          pitch,
          spelled,
          ...(isAccented ? { articulations: ['accent'] } : {}),
        }))
      }),
      hand,
      reach,
    )
  })
  const end = notes.reduce((latest, note) => later(latest, note.end), ZERO)
  const length = toBarLine(end, barLength(meter))
  return {
    notes: notes.map(note => (compare(note.end, end) === 0 ? { ...note, end: length } : note)),
    chords: [],
    length,
  }
}

/** What one hand can hold of notes. */
function withinReach(notes: readonly HandNote[], hand: Hand, reach: number): HandNote[] {
  const keys = notes.map(note => ({ note, onset: toDecimal(note.onset), end: toDecimal(note.end), pitch: note.pitch }))
  return withinHold(keys, hand === 'left' ? 'lowest' : 'highest', { keys: 5, reach }).map(({ note }) => note)
}

/** Steps of the five-finger position that a hand goes up and back through. */
const FIVE = [0, 2, 4, 5, 7, 5, 4, 2]
const AGAINST_BARS = 4

/** Polyrhythm: `right` notes against `left`, each hand up and down its five fingers, in each beat or over two. */
function againstUnit(
  { meter }: DrillRecipe,
  { right, left, beats }: Extract<Material, { kind: 'against' }>,
  key: DrillKey,
): Unit {
  const period = multiply(beatOf(meter), quarters(beats))
  const length = multiply(barLength(meter), quarters(AGAINST_BARS))
  const count = toDecimal(length) / toDecimal(period)
  if (!Number.isInteger(count))
    throw new NoDrill(
      `${right} against ${left} over ${beats} beats does not fill bars of ${meter.beats}/${meter.beatType}`,
    )
  const hand = (which: Hand, notes: number, from: number): HandNote[] => {
    const tonic = from + ((Note.chroma(key.tonic)! - (from % 12) + 12) % 12)
    const each = multiply(period, quarters(1, notes))
    return Array.from({ length: notes * count }, (_, index) => ({
      hand: which,
      onset: multiply(each, quarters(index)),
      end: multiply(each, quarters(index + 1)),
      pitch: tonic + FIVE[index % FIVE.length]!,
    }))
  }
  return { notes: [...hand('right', right, 60), ...hand('left', left, 48)], chords: [], length }
}

/** What a hand plays to chords where the recipe does not say. */
const USUAL: Readonly<Record<Hand, string>> = { left: 'held-root', right: 'block-held' }

function patternFor({ patterns, hands }: DrillRecipe, hand: Hand): HandPattern | undefined {
  const said = patterns?.[hand]
  if (said === undefined)
    return hands === undefined || hands === hand || (hands !== 'right' && hands !== 'left')
      ? handPatternNamed(USUAL[hand])
      : undefined
  const pattern = typeof said === 'string' ? handPatternNamed(said) : said
  if (!pattern) throw new NoDrill(`there is no pattern "${String(said).slice(0, 40)}"`)
  return pattern
}

/** Chords in order, up to a bar line. */
interface Chords {
  readonly chords: readonly { readonly symbol: string; readonly onset: Quarters; readonly end: Quarters }[]
  readonly length: Quarters
}

/** Chords of a bar each. */
const wholeBars = (symbols: readonly string[], bar: Quarters): Chords => ({
  chords: symbols.map((symbol, index) => ({
    symbol,
    onset: multiply(bar, quarters(index)),
    end: multiply(bar, quarters(index + 1)),
  })),
  length: multiply(bar, quarters(symbols.length)),
})

/** Chords with a pattern for each hand: the left one's first, which the right lies above. */
function chordUnit(recipe: DrillRecipe, { chords: wanted, length }: Chords, reach: number): Unit {
  wanted.forEach(({ onset, end }, index) => {
    if (
      compare(onset, end) >= 0 ||
      compare(end, length) > 0 ||
      (index > 0 && compare(wanted[index - 1]!.end, onset) > 0)
    )
      throw new NoDrill('chords one after the other, each of some length, were expected')
  })
  const chords = wanted.map(({ symbol, onset, end }): Harmony => ({
    ...spelled(symbol),
    onset,
    end,
    from: 'symbol',
    roman: '',
    missing: [],
  }))
  const notes: HandNote[] = []
  const hands = handsIn('both')
    .filter(hand => patternFor(recipe, hand))
    .sort(
      (a, b) =>
        Number(patternFor(recipe, a)!.answers ?? false) - Number(patternFor(recipe, b)!.answers ?? false) ||
        (a === 'left' ? -1 : 1),
    )
  for (const hand of hands) {
    const pattern = patternFor(recipe, hand)!
    try {
      checkMeter(pattern, recipe.meter)
    } catch (error) {
      if (error instanceof NoPattern) throw new NoDrill(error.message)
      throw error
    }
    const soFar = arrange(
      { title: '', meters: [{ at: ZERO, meter: recipe.meter }], fifths: 0, pickup: ZERO, tempos: [], end: length },
      notes,
    )
    notes.push(
      ...playPattern(soFar, { pattern, hand, harmonies: chords, reach }).map(note =>
        note.grace ? note : { ...note, spelled: spelledBy(chords[harmonyIndexAt(chords, note.onset)], note.pitch, 0) },
      ),
    )
  }
  return { notes, chords, length }
}

/** A passage of a song in a key: moved as little as can be, a hand's run of notes in the recipe's rhythm. */
function passageUnit(
  { meter, rhythm = 'as-it-is', hands, division }: DrillRecipe,
  { fifths, length, right, left }: Extract<Material, { kind: 'passage' }>,
  key: DrillKey,
  reach: number,
): Unit {
  const moved = ((((key.fifths - fifths) * 7) % 12) + 12) % 12
  const halfSteps = moved > 6 ? moved - 12 : moved
  const own = { right, left }
  const which = EACH_HAND.filter(
    hand => own[hand].length > 0 && (hands === undefined || hands === hand || (hands !== 'right' && hands !== 'left')),
  )
  if (which.length === 0) throw new NoDrill('that hand has no notes there')
  if (
    which.some(hand =>
      own[hand].some(note => compare(note.duration, ZERO) <= 0 || compare(add(note.onset, note.duration), length) > 0),
    )
  )
    throw new NoDrill('notes of some length, all within the passage, were expected')
  const notes = which.flatMap(hand =>
    own[hand].map((note): HandNote => {
      const pitch = note.pitch + halfSteps
      const name = nameMoved(note.spelled, key.fifths - fifths)
      return {
        hand,
        onset: note.onset,
        end: add(note.onset, note.duration),
        pitch,
        ...(name ? { spelled: spelledAs(name, pitch) } : {}),
      }
    }),
  )
  const bar = barLength(meter)
  if (rhythm === 'as-it-is') return { notes, chords: [], length: toBarLine(length, bar) }
  const beat = beatOf(meter)
  const runs = which.map(hand => {
    const line = notes.filter(note => note.hand === hand).sort((a, b) => compare(a.onset, b.onset) || a.pitch - b.pitch)
    const onsets = [...new Set(line.map(note => toDecimal(note.onset)))]
    const moments = onsets.map(at => line.filter(note => toDecimal(note.onset) === at))
    const value = division === undefined ? usualValue(moments) : multiply(beat, quarters(1, division))
    const timed = inRhythm(moments.length, value, beat, rhythm)
    return withinReach(
      timed.flatMap(({ moments: some, at, length: each, isAccented }): HandNote[] =>
        [...new Map(some.flatMap(moment => moments[moment]!).map(note => [note.pitch, note])).values()].map(note => ({
          ...note,
          onset: at,
          end: add(at, each),
          ...(isAccented ? { articulations: ['accent'] } : {}),
        })),
      ),
      hand,
      reach,
    )
  })
  const end = runs.flat().reduce((latest, note) => later(latest, note.end), ZERO)
  return { notes: runs.flat(), chords: [], length: toBarLine(end, bar) }
}

/** The step from one moment to the next that is most common; an eighth for a single one. */
function usualValue(moments: readonly (readonly HandNote[])[]): Quarters {
  const steps = moments.slice(1).map((moment, index) => subtract(moment[0]!.onset, moments[index]![0]!.onset))
  const counts = new Map<string, { step: Quarters; count: number }>()
  for (const step of steps) {
    const name = `${step.n}/${step.d}`
    const known = counts.get(name)
    if (known) known.count++
    else counts.set(name, { step, count: 1 })
  }
  return [...counts.values()].sort((a, b) => b.count - a.count)[0]?.step ?? quarters(1, 2)
}

/** Twice as fast, to the next bar line. */
function doubled(unit: Unit, bar: Quarters): Unit {
  const half = (at: Quarters) => multiply(at, quarters(1, 2))
  return {
    notes: unit.notes.map(note => ({ ...note, onset: half(note.onset), end: half(note.end) })),
    chords: unit.chords.map(chord => ({ ...chord, onset: half(chord.onset), end: half(chord.end) })),
    length: toBarLine(half(unit.length), bar),
  }
}

/** The fingers that are taught for it, key by key. */
function withFingers(arrangement: Arrangement, parts: readonly ScoreSpan[], reach: number): Arrangement {
  const fingers = new Map(
    parts.flatMap(part =>
      EACH_HAND.flatMap(hand =>
        fingerPart(arrangement, part, hand, { reach, keep: 'none' }).notes.map(
          ({ id, finger }) => [id, finger] as const,
        ),
      ),
    ),
  )
  return {
    ...arrangement,
    notes: arrangement.notes.map((note): WrittenNote =>
      fingers.has(note.id) ? { ...note, finger: fingers.get(note.id)! } : note,
    ),
  }
}
