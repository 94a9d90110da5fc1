import type { FollowedStroke } from './hypotheses'

/** Strokes played without a jump, and the events they cover. */
export interface Run {
  /** First and last stroke. */
  from: number
  to: number
  firstEvent: number
  lastEvent: number
}

export interface Attempts {
  runs: Run[]
  /** For each event, the run whose strokes count for it; -1 for an event no run reached. */
  runOfEvent: Int32Array
  /** For each stroke, its run, or -1 in an abandoned attempt. */
  runOfStroke: Int32Array
  /** How often the player stopped and started again from a place already played. */
  restarts: number
  /** Trial keys that happened to fit somewhere and are no attempt. */
  triedOut: Uint8Array
}

/** Fewest matches that count as an attempt; fewer are trial keys. And the fewest strokes of an abandoned one. */
const MIN_MATCHES = 3
const MIN_GIVEN_UP = 2
/** A forward jump this short counts as going on. */
const ON_THE_WAY = 2

/**
 * Cuts the path through the score into runs at its jumps, and decides which run counts where several cover a note: the
 * one that got furthest, the last among equals. So a restart keeps the last complete attempt.
 */
export function attemptsOf(steps: readonly FollowedStroke[], events: number): Attempts {
  const runs: Run[] = []
  const triedOut = new Uint8Array(steps.length)
  // The last event whose keys were struck, and the strokes since then.
  let reached = -1
  let since: number[] = []
  steps.forEach(({ event, jumped, kind }, stroke) => {
    if (event < 0) return
    const run = runs.at(-1)
    // Trial keys that lead back to where the music was are no jump, whatever they happened to fit.
    const goesOn = run !== undefined && jumped && event > reached && event <= reached + ON_THE_WAY
    if (goesOn) {
      for (const tried of since) triedOut[tried] = 1
      run.lastEvent = Math.max(run.firstEvent, reached)
    }
    if (run && (!jumped || goesOn)) {
      run.to = stroke
      run.firstEvent = Math.min(run.firstEvent, event)
      run.lastEvent = Math.max(run.lastEvent, event)
    } else runs.push({ from: stroke, to: stroke, firstEvent: event, lastEvent: event })
    if (kind === 'match') [reached, since] = [!run || (jumped && !goesOn) ? event : Math.max(reached, event), []]
    else since.push(stroke)
  })
  const runOfEvent = new Int32Array(events).fill(-1)
  runs.forEach((run, index) => {
    for (let event = run.firstEvent; event <= run.lastEvent; event++) {
      const other = runOfEvent[event]!
      if (other < 0 || run.lastEvent >= runs[other]!.lastEvent) runOfEvent[event] = index
    }
  })
  const runOfStroke = new Int32Array(steps.length).fill(-1)
  const matches = runs.map(
    ({ from, to }) => steps.slice(from, to + 1).filter(step => step.event >= 0 && step.kind === 'match').length,
  )
  let restarts = 0
  runs.forEach((run, index) => {
    const givenUp: number[] = []
    for (let stroke = run.from; stroke <= run.to; stroke++) {
      const { event } = steps[stroke]!
      if (triedOut[stroke] === 1 || event < 0) continue
      if (runOfEvent[event] === index) runOfStroke[stroke] = index
      else givenUp.push(stroke)
    }
    if (givenUp.length === 0) return
    const isAttempt =
      (index === 0 || matches[index]! >= MIN_MATCHES) &&
      givenUp.filter(stroke => steps[stroke]!.kind === 'match').length >= MIN_GIVEN_UP
    if (isAttempt) restarts++
    else for (const stroke of givenUp) triedOut[stroke] = 1
  })
  return { runs, runOfEvent, runOfStroke, restarts, triedOut }
}
