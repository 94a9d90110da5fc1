import type { Step } from './follow'

/** A stretch played in one go: which strokes, and from which moment to which. */
export interface Run {
  /** First and last stroke. */
  from: number
  to: number
  firstMoment: number
  lastMoment: number
}

export interface Attempts {
  runs: Run[]
  /** For each moment, the run whose strokes stand for it; -1 for one no run came by. */
  runOfMoment: Int32Array
  /** For each stroke, its run, or -1 when it belongs to an attempt that was given up. */
  runOfStroke: Int32Array
  /** How often the player stopped and took up again from a place already played. */
  restarts: number
  /** Strokes of a few keys tried out that happened to fit somewhere: no attempt at anything. */
  triedOut: Uint8Array
}

/**
 * An attempt at a place has so many of its keys, and one that is given up so many strokes to give up; fewer are keys
 * tried out.
 */
const LEAST_MATCHES = 3
const LEAST_GIVEN_UP = 2
/** Taken up again so few moments behind the last one struck, the music just goes on. */
const ON_THE_WAY = 2

/**
 * Cuts the way through the score into runs at its jumps, and decides which run's notes count where several came by: the
 * one that went on furthest, of equals the last. A restart thus keeps the last complete attempt.
 */
export function attemptsOf(steps: readonly Step[], moments: number): Attempts {
  const runs: Run[] = []
  const triedOut = new Uint8Array(steps.length)
  // The last moment whose keys were struck, and the strokes since then.
  let reached = -1
  let since: number[] = []
  steps.forEach(({ moment, jumped, kind }, stroke) => {
    if (moment < 0) return
    const run = runs.at(-1)
    // Who tries out keys and goes on where the music was has not jumped, whatever the keys happened to fit.
    const goesOn = run !== undefined && jumped && moment > reached && moment <= reached + ON_THE_WAY
    if (goesOn) {
      for (const tried of since) triedOut[tried] = 1
      run.lastMoment = Math.max(run.firstMoment, reached)
    }
    if (run && (!jumped || goesOn)) {
      run.to = stroke
      run.firstMoment = Math.min(run.firstMoment, moment)
      run.lastMoment = Math.max(run.lastMoment, moment)
    } else runs.push({ from: stroke, to: stroke, firstMoment: moment, lastMoment: moment })
    if (kind === 'match') [reached, since] = [!run || (jumped && !goesOn) ? moment : Math.max(reached, moment), []]
    else since.push(stroke)
  })
  const runOfMoment = new Int32Array(moments).fill(-1)
  runs.forEach((run, index) => {
    for (let moment = run.firstMoment; moment <= run.lastMoment; moment++) {
      const other = runOfMoment[moment]!
      if (other < 0 || run.lastMoment >= runs[other]!.lastMoment) runOfMoment[moment] = index
    }
  })
  const runOfStroke = new Int32Array(steps.length).fill(-1)
  const matches = runs.map(
    ({ from, to }) => steps.slice(from, to + 1).filter(step => step.moment >= 0 && step.kind === 'match').length,
  )
  let restarts = 0
  runs.forEach((run, index) => {
    const givenUp: number[] = []
    for (let stroke = run.from; stroke <= run.to; stroke++) {
      const { moment } = steps[stroke]!
      if (triedOut[stroke] === 1 || moment < 0) continue
      if (runOfMoment[moment] === index) runOfStroke[stroke] = index
      else givenUp.push(stroke)
    }
    if (givenUp.length === 0) return
    const isAttempt =
      (index === 0 || matches[index]! >= LEAST_MATCHES) &&
      givenUp.filter(stroke => steps[stroke]!.kind === 'match').length >= LEAST_GIVEN_UP
    if (isAttempt) restarts++
    else for (const stroke of givenUp) triedOut[stroke] = 1
  })
  return { runs, runOfMoment, runOfStroke, restarts, triedOut }
}
