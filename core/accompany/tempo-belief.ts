/** What is believed of a player's time: when a place of the score is reached, and how long a score ms lasts. */
export interface TempoPosterior {
  /** A place, score ms, and when it was reached, take ms. */
  scoreMs: number
  takeMs: number
  /** Take ms for one score ms. */
  ratio: number
}

/**
 * How exactly players strike, ms (common practice: 15 to 25), and how their tempo wanders: variance of the ratio for
 * each score ms.
 */
const STRIKE_MS = 22
const WANDER = 2.5e-6
/** Standard deviation of the tempo at first: when it was given, and when it was not. */
const TOLD_SPREAD = 0.08
const UNTOLD_SPREAD = 0.6
/** A stroke that is later than believed by more than all of these is a hesitation: it says nothing of the tempo. */
const HESITATION = { ms: 150, share: 0.3, spreads: 3 }
/** One that is earlier by more than this share says that something was left out. */
const TOO_EARLY_SHARE = 0.45
const [SLOWEST, FASTEST] = [6, 0.15]

/**
 * Believes a player's tempo from their strokes alone: a Kalman filter over place and tempo, as accompaniment systems
 * have it (Raphael's Music Plus One; Cancino-Chacón and others 2023; both unchecked). A hesitation moves the place
 * and leaves the tempo.
 */
export class PlayerTempoFilter {
  private at: TempoPosterior
  private heard = 0
  private variance: { place: number; both: number; ratio: number }

  /**
   * `takeMs`: when the score's time 0 is believed to be, before anything was heard. `isTold`: the score's ms are meant
   * as they are.
   */
  constructor(takeMs: number, isTold: boolean) {
    this.at = { scoreMs: 0, takeMs, ratio: 1 }
    this.variance = { place: STRIKE_MS ** 2, both: 0, ratio: (isTold ? TOLD_SPREAD : UNTOLD_SPREAD) ** 2 }
  }

  get belief(): Readonly<TempoPosterior> {
    return this.at
  }

  /** When a place of the score is believed to be reached, take ms. */
  when(scoreMs: number): number {
    return this.at.takeMs + (scoreMs - this.at.scoreMs) * this.at.ratio
  }

  /** A place was struck that the music has come to by itself. */
  struck(scoreMs: number, takeMs: number): void {
    const stepMs = scoreMs - this.at.scoreMs
    if (this.heard === 0 || stepMs <= 0) return this.takenUp(scoreMs, takeMs)
    const { place, both, ratio } = this.variance
    const before = {
      place: place + 2 * stepMs * both + stepMs * stepMs * ratio,
      both: both + stepMs * ratio,
      ratio: ratio + WANDER * stepMs,
    }
    const off = takeMs - this.when(scoreMs)
    const all = before.place + STRIKE_MS ** 2
    const dueMs = stepMs * this.at.ratio
    const isFirstStep = this.heard === 1
    if (
      !isFirstStep &&
      (off > Math.max(HESITATION.ms, HESITATION.share * dueMs, HESITATION.spreads * Math.sqrt(all)) ||
        off < -Math.max(HESITATION.ms, TOO_EARLY_SHARE * dueMs))
    )
      return this.takenUp(scoreMs, takeMs)
    const gain = { place: before.place / all, ratio: before.both / all }
    this.at = {
      scoreMs,
      takeMs: this.when(scoreMs) + gain.place * off,
      ratio: Math.min(SLOWEST, Math.max(FASTEST, this.at.ratio + gain.ratio * off)),
    }
    this.variance = {
      place: (1 - gain.place) * before.place,
      both: (1 - gain.place) * before.both,
      ratio: before.ratio - gain.ratio * before.both,
    }
    this.heard++
  }

  /** The music was begun, or resumed, at a place: the tempo is as before. */
  takenUp(scoreMs: number, takeMs: number): void {
    this.at = { ...this.at, scoreMs, takeMs }
    this.variance = { ...this.variance, place: STRIKE_MS ** 2, both: 0 }
    this.heard = Math.max(1, this.heard)
  }
}
