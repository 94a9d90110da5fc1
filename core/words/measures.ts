import type { Assessment, Measure, MeasureName, ToleranceSource } from '../ear/assessment'

const LABELS: Record<MeasureName, string> = {
  onTimeShare: 'Right notes in time',
  offsetMs: 'Constant offset from the click',
  driftPercent: 'Drift against the click',
  unsteadinessMs: 'Unsteadiness',
  hesitations: 'Hesitations',
  swingRatio: 'Swing ratio (long : short)',
  chordSpreadMs: 'Spread of chord notes',
  leftBehindMs: 'Left hand behind the right',
  articulation: 'Held for',
  balanceSteps: 'Melody above accompaniment',
  pedalMs: 'Pedal behind the harmony',
  usualWaitMs: 'Time per step (median)',
}

/** What a measure says, for the player. */
export const measureLabel = ({ name, withClick }: Measure): string =>
  name === 'driftPercent' && withClick === false ? 'Change of tempo from beginning to end' : LABELS[name]

const SOURCES: Record<ToleranceSource, string> = {
  'noticed-displacement': 'a listener notices about 2.5 % of the interval (Friberg & Sundberg 1995)',
  'swing-research': 'as written; swing falls with tempo (Friberg & Sundström 2002)',
  'melody-lead': 'experts’ melody lead is about 30 ms (Goebl 2001)',
  detached: 'detached playing holds about half (common practice)',
  'melody-above': 'the melody is not softer than what accompanies it (common practice)',
  'syncopated-pedal': 'syncopated pedalling: up as the new chord goes down (common practice)',
  'common-practice': 'common practice',
  'not-judged': 'measured, not scored: you set the pace',
}

/** Where its tolerance comes from, for the player. */
export function measureSource({ name, source, toleranceMs, beatShare, most }: Measure): string {
  const from = SOURCES[source]
  if (name === 'onTimeShare' && toleranceMs !== undefined)
    return `Within ${Math.round(toleranceMs)} ms, ${Math.round(100 * beatShare!)} % of a beat; ${from}`
  if (name === 'hesitations' && toleranceMs !== undefined && most === 0)
    return `Longer than ${Math.round(100 * beatShare!)} % of the step and ${Math.round(toleranceMs)} ms (${from})`
  return from.charAt(0).toUpperCase() + from.slice(1)
}

/**
 * What the picture of a pass's timing shows: against the click, or against the player's own tempo where that was
 * another one.
 */
export function timingText({
  summary: { onTimeShare, onTimeMs, offsetMs, unsteadinessMs },
  findings,
}: Pick<Assessment, 'summary' | 'findings'>): string {
  const own = findings.find(finding => finding.kind === 'wrong-tempo')
  const spread = `median ${Math.round(offsetMs)} ms, spread ${Math.round(unsteadinessMs)} ms`
  return own
    ? `Shown against your own tempo, about ${Math.round(own.beatBpm)} beats a minute: ${spread}. With the click, ${Math.round(100 * onTimeShare)} % of the right notes were within ${Math.round(onTimeMs)} ms.`
    : `${Math.round(100 * onTimeShare)} % of the right notes within ${Math.round(onTimeMs)} ms; ${spread}.`
}
