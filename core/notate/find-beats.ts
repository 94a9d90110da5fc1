/** How beats are found in free playing. The method is Ellis 2007, Beat tracking by dynamic programming (J. New Music Research 36; from memory); the values are own choice. */
export const BEATS = {
  slowestBpm: 45, fastestBpm: 180,
  /** Where people's own tempo lies, and how wide, in octaves: between twice and half, the nearer one. */
  usualBpm: 96, widthOctaves: 0.8,
  frameMs: 10, blurMs: 35,
  /** What a beat of another length costs, times the squared logarithm of the change; a beat met by a note is worth 1. */
  tightness: 7,
} as const

/**
 * Moments of the beat, ms, in free playing: steady enough to tap to, on as many notes as can be. At least two beats around all
 * onsets. `onsets` sorted; `weights` how much each counts (a chord, a bass note more).
 */
export function findBeats(onsets: readonly number[], weights: readonly number[]): number[] {
  const first = onsets[0] ?? 0
  const last = onsets.at(-1) ?? first
  const strength = strengths(onsets, weights, first)
  const candidates = tempoCandidates(strength)
  const tracked = candidates.map(periodMs => track(strength, periodMs / BEATS.frameMs))
    .sort((a, b) => b.score - a.score)
  const beats = tracked[0]!.frames.map(frame => first + frame * BEATS.frameMs)
  const step = beats.length > 1 ? (beats.at(-1)! - beats[0]!) / (beats.length - 1) : candidates[0]!
  while (beats[0]! > first + BEATS.blurMs) beats.unshift(beats[0]! - step)
  while (beats.at(-1)! <= last + BEATS.blurMs || beats.length < 2) beats.push(beats.at(-1)! + step)
  return beats
}

/** A moment in beats from the first, with the tempo between two beats even; before and behind them as at the edge. */
export function inBeats(beats: readonly number[], atMs: number): number {
  let index = beats.findIndex(beat => beat > atMs) - 1
  if (index === -2) index = beats.length - 2
  index = Math.max(0, Math.min(beats.length - 2, index))
  return index + (atMs - beats[index]!) / (beats[index + 1]! - beats[index]!)
}

function strengths(onsets: readonly number[], weights: readonly number[], first: number): number[] {
  const { frameMs, blurMs } = BEATS
  const strength = Array.from({ length: Math.ceil(((onsets.at(-1) ?? first) - first) / frameMs) + 20 }, () => 0)
  onsets.forEach((onset, index) => {
    const centre = (onset - first) / frameMs
    for (let frame = Math.max(0, Math.floor(centre - 10)); frame <= Math.min(strength.length - 1, centre + 10); frame++) {
      strength[frame]! += weights[index]! * Math.exp(-(((frame - centre) * frameMs / blurMs) ** 2) / 2)
    }
  })
  return strength.map(one => Math.sqrt(one))
}

/** The periods that repeat most, ms, by autocorrelation with people's preference for a moderate tempo. */
function tempoCandidates(strength: readonly number[]): number[] {
  const { frameMs, slowestBpm, fastestBpm, usualBpm, widthOctaves } = BEATS
  const scored: { lag: number, score: number }[] = []
  for (let lag = Math.floor(60_000 / fastestBpm / frameMs); lag <= 60_000 / slowestBpm / frameMs; lag++) {
    let sum = 0
    for (let frame = lag; frame < strength.length; frame++) sum += strength[frame]! * strength[frame - lag]!
    const octaves = Math.log2(60_000 / (lag * frameMs) / usualBpm)
    scored.push({ lag, score: sum * Math.exp(-((octaves / widthOctaves) ** 2) / 2) })
  }
  const peaks = scored.filter(({ score }, index) => score >= (scored[index - 1]?.score ?? 0) && score >= (scored[index + 1]?.score ?? 0))
  return peaks.sort((a, b) => b.score - a.score).slice(0, 4).map(({ lag }) => lag * frameMs)
}

/** The best chain of beats about `period` frames apart. */
function track(strength: readonly number[], period: number): { frames: number[], score: number } {
  const best = [...strength]
  const from = strength.map(() => -1)
  for (let frame = 0; frame < strength.length; frame++) {
    let most = 0
    for (let before = Math.max(0, Math.round(frame - 1.7 * period)); before <= frame - 0.6 * period; before++) {
      const score = best[before]! - BEATS.tightness * Math.log((frame - before) / period) ** 2
      if (score > most) {
        most = score
        from[frame] = before
      }
    }
    best[frame] = strength[frame]! + most
  }
  let at = best.length - 1
  for (let frame = Math.max(0, Math.floor(best.length - 1 - period)); frame < best.length; frame++) if (best[frame]! > best[at]!) at = frame
  const frames: number[] = []
  for (let frame = at; frame >= 0; frame = from[frame]!) frames.unshift(frame)
  // Chains of many short beats collect more: what each beat meets, weighed by how usual its tempo is, decides.
  const mean = frames.reduce((sum, frame) => sum + strength[frame]!, 0) / frames.length
  const octaves = Math.log2(60_000 / (period * BEATS.frameMs) / BEATS.usualBpm)
  return { frames, score: mean * Math.exp(-((octaves / BEATS.widthOctaves) ** 2) / 4) }
}
