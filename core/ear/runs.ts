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
}

/**
 * Cuts the way through the score into runs at its jumps, and decides which run's notes count where several came by: the one
 * that went on furthest, of equals the last. A restart thus keeps the last complete attempt.
 */
export function attemptsOf(steps: readonly Step[], moments: number): Attempts {
  const runs: Run[] = []
  steps.forEach(({ moment, jumped }, stroke) => {
    if (moment < 0) return
    const run = runs.at(-1)
    if (run && !jumped) {
      run.to = stroke
      run.firstMoment = Math.min(run.firstMoment, moment)
      run.lastMoment = Math.max(run.lastMoment, moment)
    }
    else runs.push({ from: stroke, to: stroke, firstMoment: moment, lastMoment: moment })
  })
  const runOfMoment = new Int32Array(moments).fill(-1)
  runs.forEach((run, index) => {
    for (let moment = run.firstMoment; moment <= run.lastMoment; moment++) {
      const other = runOfMoment[moment]!
      if (other < 0 || run.lastMoment >= runs[other]!.lastMoment) runOfMoment[moment] = index
    }
  })
  const runOfStroke = new Int32Array(steps.length).fill(-1)
  const gaveUp = new Set<number>()
  runs.forEach((run, index) => {
    for (let stroke = run.from; stroke <= run.to; stroke++) {
      const { moment } = steps[stroke]!
      if (moment >= 0 && runOfMoment[moment] === index) runOfStroke[stroke] = index
      else if (moment >= 0) gaveUp.add(index)
    }
  })
  return { runs, runOfMoment, runOfStroke, restarts: gaveUp.size }
}
