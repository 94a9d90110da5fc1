import type { Finding } from '../assessment'

/** A finding and what fixing it would bring, on a scale on which one wrong note is 10 (own choice, tuned on planted findings). */
export interface Weighed { finding: Finding, weight: number }

/** A weight that grows with `excess` (1: at the tolerance) and levels off. */
export const weigh = (base: number, excess: number, most: number): number => Math.min(most, base + 2 * Math.max(0, excess - 1))
