import { effectScope, type EffectScope } from 'vue'
import { afterEach, beforeEach, vi } from 'vitest'

/**
 * For a suite of composables on a clock that is moved by hand: gives what runs something in a scope that ends with each
 * test.
 */
export function inFakeTime(): <Made>(make: () => Made) => Made {
  let scope: EffectScope
  beforeEach(() => {
    performance.mark ??= (() => {}) as never
    performance.measure ??= (() => {}) as never
    vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout', 'performance', 'Date'] })
    scope = effectScope()
  })
  afterEach(() => {
    scope.stop()
    vi.useRealTimers()
  })
  return make => scope.run(make)!
}
