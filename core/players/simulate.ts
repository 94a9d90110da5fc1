import { byOnset, type Take, type TakeNote, type TakePedal } from '../ear/take'
import type { ExpectedNote, PedalDue } from '../music/passage'
import type { PlayerHabits } from './habits'
import { seededChance, type Chance } from './randomness'
import { strikesOf, type Strike } from './strikes'
import { performedRoute } from './way'

/**
 * What the player did on purpose, note for note in the order of the expected notes; `played` indexes the take's notes.
 */
export interface Truth {
  notes: {
    id: string
    time: number
    outcome: 'right' | 'wrong' | 'missed'
    played: number | null
    displacementMs: number | null
  }[]
  extras: number[]
  /** Strokes of abandoned attempts. */
  restarted: number[]
  /** Tied notes struck again, and strokes of a repeat played once too often. */
  restruck: number[]
  repeated: number[]
}

/** A stroke and the expected note it is meant for, if any. */
interface Struck {
  note: TakeNote
  expected: number | null
  kind: 'counts' | 'abandoned' | 'again' | 'restruck'
}

/** The timing error of one hand's stroke, in one of the three kinds of noise. */
function noiseOf({ jitterMs, jitterMemory, noise }: PlayerHabits, chance: Chance) {
  let wander = jitterMs * chance.normal()
  return {
    ofStrike: (): number => {
      if (noise !== 'drifting') return 0
      return (wander = jitterMemory * wander + Math.sqrt(1 - jitterMemory ** 2) * jitterMs * chance.normal())
    },
    ofKey: (): number =>
      noise === 'drifting'
        ? 0
        : jitterMs * chance.normal() * (noise === 'heavy-tailed' && chance.happens(FAR_OFF.share) ? FAR_OFF.times : 1),
  }
}

/** The occasional large timing error. */
const FAR_OFF = { share: 0.03, times: 2 }

/**
 * Plays a passage as a learner would, seeded: the same expected notes, habits and seed give the same take and truth.
 * Expected notes as from `expectedNotes`, sorted by time; `pedals` as from `pedalsDue`.
 */
export function simulatePlayer(
  expected: readonly ExpectedNote[],
  habits: PlayerHabits,
  seed: number,
  pedals: readonly PedalDue[] = [],
): { take: Take; truth: Truth } {
  const chance = seededChance(seed)
  const strikes = strikesOf(expected)
  const struck: Struck[] = []
  const outcomes: Truth['notes'][number]['outcome'][] = expected.map(() => 'missed')
  const noise = noiseOf(habits, chance)
  const heardAt = new Map<number, number>()
  const tied = tiesAt(expected, strikes)
  for (const { strike, atMs, abandoned, again, tempoRatio } of performedRoute(expected, strikes, habits, chance)) {
    const kind = abandoned ? 'abandoned' : again ? 'again' : 'counts'
    const common = noise.ofStrike()
    const { notes, pitches, bar, beat } = strikes[strike]!
    for (const { keys, ms } of habits.noodles.filter(one => one.bar === bar && Math.abs(one.beat - beat) < 0.01)) {
      for (let key = 1; key <= keys; key++) {
        const pitch = 36 + Math.floor(48 * chance.uniform())
        struck.push({
          note: { pitch, onsetMs: atMs - ms + (ms * key) / (keys + 1), durationMs: 120, velocity: habits.velocity },
          expected: null,
          kind,
        })
      }
    }
    heardAt.set(strike, atMs + common)
    for (const [at, index] of notes.entries()) {
      const written = expected[index]!
      // A key shared by both hands is struck once.
      if (pitches.indexOf(written.pitch) < at && !written.grace && !habits.displaced) continue
      const spread = notes.length > 1 ? habits.chordSpreadMs * chance.normal() : 0
      const handLateMs = written.hand === 'left' ? habits.leftLateMs : habits.rightLateMs
      const onsetMs =
        atMs +
        common +
        noise.ofKey() +
        spread +
        handLateMs +
        keyLateMs(written, habits) -
        (written.eventMs - written.onsetMs)
      const isRestruck = written.ties !== undefined && tied.isFree(index) && chance.happens(habits.restrikesTies)
      const lastsMs = isRestruck ? written.ties![0]!.atMs - written.onsetMs : written.durationMs
      const heldMs = Math.max(
        20,
        tempoRatio *
          lastsMs *
          habits.articulation[written.hand] *
          (written.articulations?.includes('staccato') ? 0.5 : 1),
      )
      const isMelody = written.hand === 'right' && written.pitch === Math.max(...pitches)
      const loud =
        habits.velocity +
        (isMelody ? habits.melodySteps : 0) +
        (written.articulations?.includes('accent') ? habits.accentSteps : 0) +
        habits.velocityJitter * chance.normal()
      const velocity = Math.round(Math.min(127, Math.max(1, loud)))
      const play = (pitch: number, delayMs: number, lasts: number, forNote: number | null, as: Struck['kind'] = kind) =>
        struck.push({
          note: { pitch, onsetMs: onsetMs + delayMs, durationMs: lasts, velocity },
          expected: forNote,
          kind: as,
        })
      const isInner = notes.length > 2 && written.pitch > Math.min(...pitches) && written.pitch < Math.max(...pitches)
      if (chance.happens(habits.missed * (isInner ? habits.missedInnerFactor : 1))) outcomes[index] = 'missed'
      else {
        const pitch = keyFor(written, pitches, habits, chance)
        outcomes[index] = pitch === written.pitch ? 'right' : 'wrong'
        play(pitch, 0, heldMs, index)
        if (isRestruck) tied.waiting.add(index)
      }
      if (chance.happens(habits.extra))
        play(
          slip(written, pitches, habits, chance),
          (0.3 + 0.4 * chance.uniform()) * Math.min(written.durationMs, 600),
          90,
          null,
        )
    }
    for (const { note, tie } of tied.at.get(strike) ?? []) {
      if (!tied.waiting.delete(note)) continue
      const { pitch, onsetMs, durationMs } = expected[note]!
      const head = expected[note]!.ties![tie]!
      const onset = atMs + common + noise.ofKey() + tempoRatio * (head.atMs - strikes[strike]!.atMs)
      struck.push({
        note: {
          pitch,
          onsetMs: onset,
          durationMs: Math.max(30, 0.9 * tempoRatio * (onsetMs + durationMs - head.atMs)),
          velocity: habits.velocity,
        },
        expected: null,
        kind: kind === 'counts' ? 'restruck' : kind,
      })
    }
  }
  struck.sort((a, b) => byOnset(a.note, b.note))
  const playedOf = new Map<number, number>()
  struck.forEach(({ expected: index, kind }, at) => {
    if (index !== null && kind === 'counts') playedOf.set(index, at)
  })
  const ofKind = (wanted: Struck['kind']) => struck.flatMap(({ kind }, at) => (kind === wanted ? [at] : []))
  return {
    take: { notes: struck.map(({ note }) => note), pedals: pedalling(pedals, strikes, heardAt, habits) },
    truth: {
      notes: expected.map((written, index) => {
        const at = playedOf.get(index) ?? null
        return {
          id: written.id,
          time: written.time,
          outcome: at === null ? 'missed' : outcomes[index]!,
          played: at,
          displacementMs: at === null ? null : struck[at]!.note.onsetMs - written.onsetMs,
        }
      }),
      extras: struck.flatMap(({ expected: index, kind }, at) => (index === null && kind === 'counts' ? [at] : [])),
      restarted: ofKind('abandoned'),
      restruck: ofKind('restruck'),
      repeated: ofKind('again'),
    },
  }
}

/**
 * Where ties continue: at the strike of that time, or the last one before it; and the notes that could be struck again
 * there.
 */
function tiesAt(expected: readonly ExpectedNote[], strikes: readonly Strike[]) {
  const at = new Map<number, { note: number; tie: number }[]>()
  const free = new Set<number>()
  expected.forEach(({ ties, pitch }, note) => {
    const [head] = ties ?? []
    if (!head) return
    const strike = strikes.findLastIndex(one => one.atMs <= head.atMs + 1)
    // A key that is struck at that time anyway cannot be struck again.
    if (strikes[strike]!.pitches.includes(pitch)) return
    free.add(note)
    at.set(strike, [...(at.get(strike) ?? []), { note, tie: 0 }])
  })
  return { at, waiting: new Set<number>(), isFree: (note: number) => free.has(note) }
}

function keyLateMs({ hand, finger, pitch }: ExpectedNote, { lateKey }: PlayerHabits): number {
  if (!lateKey || lateKey.hand !== hand) return 0
  return (lateKey.finger !== undefined && lateKey.finger === finger) ||
    (lateKey.pitch !== undefined && lateKey.pitch === pitch)
    ? lateKey.ms
    : 0
}

const WHITE = [0, 2, 4, 5, 7, 9, 11]

/** The key struck for a note: planted, forgotten, from a displaced hand, or a slip. */
function keyFor(written: ExpectedNote, together: readonly number[], habits: PlayerHabits, chance: Chance): number {
  const planted = habits.plantedWrong[written.id]
  if (planted !== undefined) return written.pitch + planted
  const name = written.spelled.replace(/-?\d+$/, '')
  if (habits.forgets.includes(name)) return written.pitch - (name.includes('#') ? 1 : -1) * (name.length - 1)
  const { displaced } = habits
  if (
    displaced &&
    displaced.hand === written.hand &&
    written.bar >= (displaced.fromBar ?? 0) &&
    written.bar <= (displaced.toBar ?? Infinity)
  ) {
    if (displaced.halfSteps !== undefined) return written.pitch + displaced.halfSteps
    const step = WHITE.indexOf(written.pitch % 12)
    const place =
      7 * Math.floor(written.pitch / 12) +
      (step < 0 ? WHITE.findLastIndex(one => one < written.pitch % 12) : step) +
      displaced.whiteKeys!
    return 12 * Math.floor(place / 7) + WHITE[((place % 7) + 7) % 7]!
  }
  return chance.happens(habits.wrong) ? slip(written, together, habits, chance) : written.pitch
}

/** The key that a slip lands on: beside the written one, in another inversion, or without its accidental. */
function slip(
  written: ExpectedNote,
  together: readonly number[],
  { wrongKinds }: PlayerHabits,
  chance: Chance,
): number {
  const isFree = (pitch: number) => pitch >= 21 && pitch <= 108 && !together.includes(pitch)
  const beside = [-2, -1, 1, 2].map(step => written.pitch + step).filter(isFree)
  const inversion = together
    .flatMap(pitch => [pitch - 12, pitch + 12])
    .filter(pitch => isFree(pitch) && Math.abs(pitch - written.pitch) <= 9)
  const accidental = /[#b]/.test(written.spelled)
    ? [written.pitch - (written.spelled.includes('#') ? 1 : -1)].filter(isFree)
    : []
  const kinds = (
    [
      ['beside', beside],
      ['inversion', inversion],
      ['accidental', accidental],
    ] as const
  ).filter(([, keys]) => keys.length > 0)
  let left = chance.uniform() * kinds.reduce((sum, [kind]) => sum + wrongKinds[kind], 0)
  const [, keys] = kinds.find(([kind]) => (left -= wrongKinds[kind]) < 0) ?? kinds[0] ?? ['beside', [written.pitch + 3]]
  return chance.pick(keys)
}

/** Syncopated pedalling: up with the new harmony, down again shortly after (common practice). */
function pedalling(
  pedals: readonly PedalDue[],
  strikes: readonly Strike[],
  heardAt: ReadonlyMap<number, number>,
  { pedalLateMs }: PlayerHabits,
): TakePedal[] {
  if (pedalLateMs === undefined) return []
  const played = pedals.flatMap(({ kind, atMs }): TakePedal[] => {
    const strike = strikes.findLastIndex(one => one.atMs <= atMs + 1)
    const at = (heardAt.get(strike) ?? atMs) + (strike >= 0 ? atMs - strikes[strike]!.atMs : 0) + pedalLateMs
    if (kind === 'down') return [{ atMs: at, down: true }]
    return kind === 'up'
      ? [{ atMs: at, down: false }]
      : [
          { atMs: at, down: false },
          { atMs: at + 120, down: true },
        ]
  })
  return played
    .sort((a, b) => a.atMs - b.atMs)
    .filter((one, index, all) => index === 0 || one.down !== all[index - 1]!.down)
}
