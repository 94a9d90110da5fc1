/**
 * Bars of eighths in the right hand over quarters and chords in the left, wandering through the keyboard, as a score
 * program would write them.
 */
export function repeatedBars(count: number): Uint8Array {
  const STEPS = ['C', 'D', 'E', 'F', 'G', 'A', 'B']
  const note = (degree: number, duration: number, type: string, staff: number, chord = false) =>
    `<note>${chord ? '<chord/>' : ''}<pitch><step>${STEPS[degree % 7]}</step><octave>${Math.floor(degree / 7)}</octave></pitch><duration>${duration}</duration><voice>${staff}</voice><type>${type}</type><stem>up</stem><staff>${staff}</staff></note>\n`
  const bars = Array.from({ length: count }, (_, bar) => {
    const root = 21 + ((bar * 5) % 7)
    const top = 35 + ((bar * 3) % 9)
    const melody = [0, 1, 2, 4, 3, 2, 1, (bar * 7) % 5].map(step => note(top + step, 1, 'eighth', 1)).join('')
    const accompaniment = [0, 1, 2, 3]
      .map(
        beat =>
          note(root, 2, 'quarter', 2) +
          (beat % 2 ? note(root + 2, 2, 'quarter', 2, true) + note(root + 4, 2, 'quarter', 2, true) : ''),
      )
      .join('')
    return `<measure number="${bar + 1}">${bar === 0 ? '<attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><staves>2</staves></attributes>' : ''}
<harmony><root><root-step>C</root-step></root><kind>major</kind></harmony>
${melody}<backup><duration>8</duration></backup>
${accompaniment}</measure>`
  })
  return new TextEncoder().encode(
    `<?xml version="1.0"?><score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Piano</part-name></score-part></part-list><part id="P1">${bars.join('\n')}</part></score-partwise>`,
  )
}
