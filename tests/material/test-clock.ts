import type { BrowserContext, Page } from '@playwright/test'

/** How many times faster than the machine's the clock of a test runs. */
const SPEED = 5

/**
 * Puts a clock of the tests' own behind a page's timers, `performance`, `Date` and audio time. It runs faster than the
 * machine's, so that practice takes less time, and it never gains more than one short step while the page is held up,
 * so that a busy machine does not make the player late. To be called before the page is opened.
 *
 * Left on the machine's time: the network, workers (the ticks of the sound come from one), and CSS.
 */
export async function runOnTestClock(target: Page | BrowserContext): Promise<void> {
  await target.addInitScript(installTestClock, { speed: SPEED, originMs: Date.now() })
}

/** Runs in the page: nothing outside this function is known there. */
function installTestClock({ speed, originMs }: { speed: number; originMs: number }): void {
  /** The most that the clock gains in one step, ms: fine enough for a tick, and for two keys after each other. */
  const MAX_STEP_MS = 40
  const PUMP_MS = 4
  const machine = {
    nowMs: performance.now.bind(performance),
    setTimeout: window.setTimeout.bind(window),
    requestAnimationFrame: window.requestAnimationFrame.bind(window),
    Date,
  }

  // A page opened later in a test must not begin earlier than the one before it ended.
  const loadedMs = machine.Date.now()
  const dateZeroMs = originMs + (loadedMs - originMs) * speed - machine.nowMs() * speed
  let reachedMs = machine.nowMs() * speed
  let reachedAtMs = machine.nowMs()
  const nowMs = () => reachedMs + Math.min(MAX_STEP_MS, (machine.nowMs() - reachedAtMs) * speed)

  interface Timer {
    dueMs: number
    everyMs?: number
    run: () => void
  }
  const timers = new Map<number, Timer>()
  let timerCount = 1_000_000
  const addTimer = (run: TimerHandler, ms: number | undefined, args: unknown[], repeats: boolean): number => {
    const delayMs = Math.max(0, Number(ms) || 0)
    const call = typeof run === 'function' ? () => void run(...args) : () => {}
    timers.set(++timerCount, { dueMs: nowMs() + delayMs, run: call, ...(repeats ? { everyMs: delayMs || 1 } : {}) })
    return timerCount
  }
  const removeTimer = (id: number | undefined) => void (id !== undefined && timers.delete(id))
  const runDue = (untilMs: number) => {
    const due = [...timers].filter(([, { dueMs }]) => dueMs <= untilMs).sort(([, a], [, b]) => a.dueMs - b.dueMs)
    for (const [id, timer] of due) {
      if (!timers.has(id)) continue
      reachedMs = Math.max(reachedMs, timer.dueMs)
      reachedAtMs = machine.nowMs()
      if (timer.everyMs === undefined) timers.delete(id)
      else timer.dueMs = Math.max(timer.dueMs + timer.everyMs, untilMs)
      try {
        timer.run()
      } catch (error) {
        reportError(error)
      }
    }
  }
  const pump = () => {
    const untilMs = nowMs()
    runDue(untilMs)
    reachedMs = Math.max(reachedMs, untilMs)
    reachedAtMs = machine.nowMs()
    machine.setTimeout(pump, PUMP_MS)
  }
  machine.setTimeout(pump, PUMP_MS)

  Object.assign(window, {
    setTimeout: (run: TimerHandler, ms?: number, ...args: unknown[]) => addTimer(run, ms, args, false),
    setInterval: (run: TimerHandler, ms?: number, ...args: unknown[]) => addTimer(run, ms, args, true),
    clearTimeout: removeTimer,
    clearInterval: removeTimer,
    requestAnimationFrame: (run: FrameRequestCallback) => machine.requestAnimationFrame(() => run(nowMs())),
  })

  performance.now = nowMs
  // A worker that ticks is told when it is on the machine's clock, as origin and time together.
  const { timeOrigin } = performance
  Object.defineProperty(performance, 'timeOrigin', { get: () => timeOrigin + machine.nowMs() - nowMs() })
  const mark = performance.mark.bind(performance)
  performance.mark = (name, options) => mark(name, { ...options, startTime: options?.startTime ?? nowMs() })
  const measure = performance.measure.bind(performance) as (name: string, options: PerformanceMeasureOptions) => never
  performance.measure = (name, options) =>
    measure(name, { ...(typeof options === 'object' ? options : { start: options ?? 0 }), end: nowMs() })
  const stamp = Object.getOwnPropertyDescriptor(Event.prototype, 'timeStamp')!.get!
  Object.defineProperty(Event.prototype, 'timeStamp', {
    configurable: true,
    get(this: Event) {
      return nowMs() - Math.max(0, machine.nowMs() - (stamp.call(this) as number)) * speed
    },
  })
  const today = () => dateZeroMs + nowMs()
  window.Date = class extends machine.Date {
    constructor(...parts: unknown[]) {
      // Another date as it is; without anything, the clock's.
      if (parts.length === 0) super(today())
      else super(...(parts as [number]))
    }

    static override now = today
  } as DateConstructor

  // Sound is placed by the clock, and heard as much sooner.
  const currentTime = Object.getOwnPropertyDescriptor(BaseAudioContext.prototype, 'currentTime')!.get!
  let heard: WeakRef<AudioContext> | undefined
  Object.defineProperty(BaseAudioContext.prototype, 'currentTime', {
    configurable: true,
    get(this: BaseAudioContext) {
      if (!(this instanceof AudioContext)) return currentTime.call(this) as number
      heard = new WeakRef(this)
      return nowMs() / 1000
    },
  })
  AudioContext.prototype.getOutputTimestamp = () => ({ contextTime: nowMs() / 1000, performanceTime: nowMs() })
  const onMachine = (seconds: number): number => {
    const context = heard?.deref()
    if (!context) return seconds
    return (currentTime.call(context) as number) + Math.max(0, seconds - nowMs() / 1000) / speed
  }
  const isPlaced = (node: AudioNode) => node.context instanceof AudioContext
  const { start, stop } = AudioScheduledSourceNode.prototype
  AudioScheduledSourceNode.prototype.start = function (at = 0) {
    return start.call(this, isPlaced(this) ? onMachine(at) : at)
  }
  AudioScheduledSourceNode.prototype.stop = function (at = 0) {
    return stop.call(this, isPlaced(this) ? onMachine(at) : at)
  }
  const startBuffer = AudioBufferSourceNode.prototype.start
  AudioBufferSourceNode.prototype.start = function (at = 0, ...rest) {
    return startBuffer.call(this, isPlaced(this) ? onMachine(at) : at, ...rest)
  }
  const placed = AudioParam.prototype as never as Record<string, (...parts: unknown[]) => unknown>
  const timeIs: Record<string, number> = {
    setValueAtTime: 1,
    linearRampToValueAtTime: 1,
    exponentialRampToValueAtTime: 1,
    setTargetAtTime: 1,
    setValueCurveAtTime: 1,
    cancelScheduledValues: 0,
    cancelAndHoldAtTime: 0,
  }
  for (const [name, at] of Object.entries(timeIs)) {
    const place = placed[name]!
    placed[name] = function (this: AudioParam, ...parts: unknown[]) {
      parts[at] = onMachine(parts[at] as number)
      return place.apply(this, parts)
    }
  }
}
