import { median } from '#core/ear/statistics'

/** What of an audio context tells its time. */
export type TellsTime = Pick<AudioContext, 'currentTime'> &
  Partial<Pick<AudioContext, 'getOutputTimestamp' | 'outputLatency'>>

/** The audio clock in relation to the page's: seconds of the one, ms of the other. */
export interface AudioClock {
  /** The first moment, in seconds, at which anything can still be placed. */
  now: () => number
  /** When something must be placed to be heard at a moment of the page's clock. */
  secondsAt: (pageMs: number) => number
  /** The moment of the page's clock at which what is placed there is heard. */
  pageMsAt: (seconds: number) => number
}

const READ_EVERY_MS = 40
const READINGS_KEPT = 25
/**
 * After this many consistent readings this far from the median the audio clock has stumbled; fewer are bad readings.
 */
const STUMBLE_READINGS = 3
const STUMBLE_MS = 30

/**
 * Relates the audio clock (what is heard now) to the page's. The two run on different crystals, so their difference is
 * taken again all the time; the median of the last second keeps one bad reading from moving the beat.
 */
export function audioClock(context: TellsTime, pageNow = () => performance.now()): AudioClock {
  let readings: number[] = []
  let lastMs = -Infinity
  function offsetMs(): number {
    const pageMs = pageNow()
    if (pageMs - lastMs > READ_EVERY_MS) {
      lastMs = pageMs
      const stamp = context.getOutputTimestamp?.()
      readings.push(
        stamp?.performanceTime && stamp.contextTime !== undefined
          ? stamp.contextTime * 1000 - stamp.performanceTime
          : (context.currentTime - (context.outputLatency || 0)) * 1000 - pageMs,
      )
      const newest = readings.slice(-STUMBLE_READINGS)
      const usual = median(readings)
      if (
        newest.every(reading => reading - usual > STUMBLE_MS) ||
        newest.every(reading => usual - reading > STUMBLE_MS)
      )
        readings = newest
      readings = readings.slice(-READINGS_KEPT)
    }
    return median(readings)
  }
  return {
    now: () => context.currentTime,
    secondsAt: pageMs => (pageMs + offsetMs()) / 1000,
    pageMsAt: seconds => seconds * 1000 - offsetMs(),
  }
}
