/** A bar as the player reads it; the pickup has no number. */
export const barText = (bar: number): string => bar === 0 ? 'Pickup' : `Bar ${bar}`

/** "beat 2", "the & of beat 2": a 1-based beat as it is counted. */
export function beatText(beat: number): string {
  const whole = Math.floor(beat + 1e-6)
  const rest = beat - whole
  return rest < 1e-6 ? `beat ${whole}` : Math.abs(rest - 0.5) < 1e-6 ? `the & of beat ${whole}` : `after beat ${whole}`
}

export const lowerFirst = (text: string): string => text.charAt(0).toLowerCase() + text.slice(1)

/** "bar 3, beat 2", "the pickup": a place named in the middle of a sentence. */
export const placeWords = ({ bar, beat }: { bar: number, beat: number }): string => bar === 0 ? 'the pickup' : `${lowerFirst(barText(bar))}, ${beatText(beat)}`
