/** Small MusicXML scores written in the tests themselves, so that each shows what it is about. */

export interface NoteText {
  pitch?: string
  length: number
  extra?: string
  before?: string
  ties?: ('start' | 'stop')[]
  staff?: number
  voice?: number
  chord?: boolean
  type?: string
  id?: string
}

const TYPES: Record<number, string> = { 4: 'whole', 2: 'half', 1: 'quarter', 0.5: 'eighth', 0.25: '16th' }
/** Divisible by 3, 5 and 8: every tuplet of the tests is a whole number. */
const DIVISIONS = 120

/** A <note>: `length` in quarter notes; `pitch` as `C#4`, absent for a rest. */
export function note({
  pitch,
  length,
  extra = '',
  before = '',
  ties = [],
  staff,
  voice = staff ?? 1,
  chord,
  type,
  id,
}: NoteText): string {
  const [, step, accidental, octave] = /^([A-G])([#b]*)(\d)$/.exec(pitch ?? '') ?? []
  const alter = accidental ? (accidental[0] === '#' ? accidental.length : -accidental.length) : 0
  const drawn =
    type ?? TYPES[length] ?? (TYPES[length / 1.5] ? `${TYPES[length / 1.5]}</type><dot/><type-end>` : undefined)
  const typeText = drawn?.includes('<dot/>')
    ? `<type>${drawn.replace('<type-end>', '')}`
    : drawn
      ? `<type>${drawn}</type>`
      : ''
  return (
    `<note${id ? ` id="${id}"` : ''}>${before}${chord ? '<chord/>' : ''}${step ? `<pitch><step>${step}</step>${alter ? `<alter>${alter}</alter>` : ''}<octave>${octave}</octave></pitch>` : '<rest/>'}` +
    `${before.includes('grace') ? '' : `<duration>${Math.round(length * DIVISIONS)}</duration>`}${ties.map(tie => `<tie type="${tie}"/>`).join('')}<voice>${voice}</voice>${typeText}` +
    `${extra.includes('time-modification') ? extra : ''}${staff ? `<staff>${staff}</staff>` : ''}` +
    `${ties.length > 0 ? `<notations>${ties.map(tie => `<tied type="${tie}"/>`).join('')}</notations>` : ''}${extra.includes('time-modification') ? '' : extra}</note>`
  )
}

/** Quarter notes, one after the other: `quarters('C4 D4 E4 F4')`. */
export const quarterNotes = (pitches: string, staff?: number): string =>
  pitches
    .split(' ')
    .map(pitch => note({ pitch: pitch === 'r' ? undefined : pitch, length: 1, staff }))
    .join('')

export const backup = (length: number): string =>
  `<backup><duration>${Math.round(length * DIVISIONS)}</duration></backup>`

export function attributes({ beats = 4, beatType = 4, fifths = 0, staves = 1 } = {}): string {
  return (
    `<attributes><divisions>${DIVISIONS}</divisions><key><fifths>${fifths}</fifths></key><time><beats>${beats}</beats><beat-type>${beatType}</beat-type></time>` +
    `<staves>${staves}</staves><clef number="1"><sign>G</sign><line>2</line></clef>${staves > 1 ? '<clef number="2"><sign>F</sign><line>4</line></clef>' : ''}</attributes>`
  )
}

/** A score of one piano part; each entry is the content of a <measure>, or [attributes of the tag, content]. */
export function pianoScore(measures: (string | [string, string])[]): string {
  const body = measures
    .map((measure, index) => {
      const [tag, content] = typeof measure === 'string' ? [`number="${index + 1}"`, measure] : measure
      return `<measure ${tag}>${content}</measure>`
    })
    .join('\n')
  return partsScore([['Piano', body]])
}

export const partsScore = (parts: [name: string, measures: string][]): string => `<?xml version="1.0" encoding="UTF-8"?>
<score-partwise version="4.0"><part-list>${parts.map(([name], index) => `<score-part id="P${index + 1}"><part-name>${name}</part-name></score-part>`).join('')}</part-list>
${parts.map(([, measures], index) => `<part id="P${index + 1}">${measures}</part>`).join('\n')}</score-partwise>`

export const bytesOf = (text: string): Uint8Array => new TextEncoder().encode(text)
