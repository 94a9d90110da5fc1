/**
 * Prints a line for a measurement: its value, what it must reach, and its ratio to a named reference in the same run.
 */
export function report(
  what: string,
  unit: string,
  value: number,
  target: number,
  reference: string,
  referenceValue: number,
): void {
  const ratio = referenceValue > 0 ? (value / referenceValue).toFixed(2) : '-'
  process.stdout.write(
    `${what}: ${value.toFixed(3)} ${unit} (to reach: under ${target} ${unit}; ${value < target ? 'reached' : 'NOT reached'}); ${ratio} times ${reference} (${referenceValue.toFixed(3)} ${unit})\n`,
  )
}

/** The median time of some work after three rounds of warming up, ms. */
export function medianMs(runs: number, work: () => unknown): number {
  for (let warm = 0; warm < 3; warm++) work()
  return percentile(
    Array.from({ length: runs }, () => {
      const began = performance.now()
      work()
      return performance.now() - began
    }),
    0.5,
  )
}

export const percentile = (values: readonly number[], share: number): number =>
  [...values].sort((a, b) => a - b)[Math.min(values.length - 1, Math.floor(share * values.length))]!
