/** How a key signature reads, without deciding between major and minor. `fifths`: positive sharps, negative flats. */
export function keyName(fifths: number): string {
  if (fifths === 0) return 'no sharps or flats'
  const count = Math.abs(fifths)
  const kind = fifths > 0 ? 'sharp' : 'flat'
  return `${count} ${kind}${count === 1 ? '' : 's'}`
}
