/** How the staves of a part are drawn: as they are, small, only their words, or not at all. */
export type Drawn = 'full' | 'small' | 'words' | 'none'

/** The elements of <attributes> in force, by kind and staff. */
type InForce = ReadonlyMap<string, string>

/** A part of a score, cut into its bars, and what is in force where each begins. */
interface PartText {
  id: string
  open: string
  bars: readonly string[]
  inForce: readonly InForce[]
}

/** A score as text, cut so that some bars can be engraved without reading the rest. */
export interface ScoreText {
  head: string
  parts: readonly PartText[]
}

/** What an <attributes> holds, in MusicXML's order. */
const KINDS = [
  'divisions',
  'key',
  'time',
  'staves',
  'part-symbol',
  'instruments',
  'clef',
  'staff-details',
  'transpose',
] as const
const ELEMENT = new RegExp(`<(${KINDS.join('|')})(?=[\\s/>])([^>]*?)(?:/>|>[^]*?</\\1\\s*>)`, 'g')
const ATTRIBUTES = /<attributes(?=[\s/>])[^>]*?(?:\/>|>[^]*?<\/attributes\s*>)/g
/** A <direction> that holds a metronome mark or a rehearsal mark. */
const TEMPO_OR_REHEARSAL =
  /<direction\b(?:(?!<\/direction>)[^])*<(?:metronome|rehearsal)\b(?:(?!<\/direction>)[^])*<\/direction>/g
const PRINT = /<print(?=[\s/>])[^>]*?(?:\/>|>[^]*?<\/print\s*>)/g
const SCORE_PART = /<score-part\s[^>]*?\bid\s*=\s*["']([^"']*)["'][^]*?<\/score-part\s*>/g
const COLOUR = /\scolor\s*=\s*["'][^"'>]*["']/g
const NAMES =
  /<(part-name|part-abbreviation)(?=[\s>])[^>]*>[^<]*<\/\1\s*>|<(part-name-display|part-abbreviation-display)(?=[\s>])[^>]*>[^]*?<\/\2\s*>/g
/** A staff that is only read along with is drawn at 60 percent; one of which only the words are drawn is a line. */
const DETAILS = {
  small: '<staff-details><staff-size>60</staff-size></staff-details>',
  words: '<staff-details><staff-lines>1</staff-lines></staff-details>',
} as const

/** Cuts a partwise score, as it is kept, into its bars. Linear in its length. */
export function scoreText(musicXml: string): ScoreText {
  const parts: PartText[] = []
  let head = musicXml
  for (const match of musicXml.matchAll(/<part\s[^>]*>/g)) {
    if (parts.length === 0) head = musicXml.slice(0, match.index)
    const end = musicXml.indexOf('</part', match.index)
    const bars = musicXml
      .slice(match.index + match[0].length, end < 0 ? undefined : end)
      .split(/(?=<measure[\s>])/)
      .filter(text => text.startsWith('<measure'))
    parts.push({ id: attribute(match[0], 'id'), open: match[0], bars, inForce: inForceAt(bars) })
  }
  return { head, parts }
}

const attribute = (tag: string, name: string): string =>
  new RegExp(`\\s${name}\\s*=\\s*["']([^"']*)["']`).exec(tag)?.[1] ?? ''

/** A bar's beginning, where attributes hold for all of it, and the rest. */
function beginning(bar: string): [string, string] {
  const at = bar.search(/<(?:note|backup|forward)[\s>]/)
  return at < 0 ? [bar, ''] : [bar.slice(0, at), bar.slice(at)]
}

function inForceAt(bars: readonly string[]): InForce[] {
  let inForce: InForce = new Map()
  return bars.map(bar => {
    const [start, rest] = beginning(bar)
    const here = after(inForce, start)
    inForce = after(here, rest)
    return here
  })
}

function after(inForce: InForce, text: string): InForce {
  const blocks = text.match(ATTRIBUTES)
  if (!blocks) return inForce
  const found = new Map(inForce)
  for (const block of blocks) {
    for (const [element, kind, tag] of block.matchAll(ELEMENT)) {
      const staff = attribute(tag!, 'number')
      // A key for all staves takes the place of those for each.
      if (staff === '') for (const known of [...found.keys()]) if (known.startsWith(`${kind} `)) found.delete(known)
      found.set(`${kind} ${staff}`, element)
    }
  }
  return found
}

/** Fingers (1 is the thumb) by note id, each over its note or, as is usual for the left hand, under it. */
export type Fingers = Readonly<Record<string, { finger: number; isBelow: boolean }>>

/**
 * Some bars of a score, by index from 0, as a score of their own: with the clefs, keys and meters that hold where they
 * begin, and without printed breaks of lines and pages (but for one at the beginning: whoever follows the breaks makes
 * one row of it). `drawn` tells of parts, by id, that are not drawn as they stand. `fingers` are written at notes that
 * have none. Bare: without names of instruments, tempo and rehearsal marks, which the page around it says.
 */
export function excerpt(
  { head, parts }: ScoreText,
  firstBar: number,
  lastBar: number,
  {
    drawn = {},
    isBare = false,
    fingers = {},
  }: { drawn?: Readonly<Record<string, Drawn>>; isBare?: boolean; fingers?: Fingers } = {},
): string {
  const body = parts
    .map(({ id, open, bars, inForce }) => {
      const how = drawn[id] ?? 'full'
      if (how === 'none') return ''
      const cut = bars.slice(firstBar, lastBar + 1).map((bar, place) => {
        const unbroken = withFingers(
          bar.replaceAll(PRINT, '').replaceAll(LOWER_FINGER, '$1 placement="below">'),
          fingers,
        )
        const text = place === 0 ? withAttributes(unbroken, inForce[firstBar]!, how, firstBar === 0) : unbroken
        return how === 'full' ? text : silent(how === 'words' ? wordsOnly(text) : text)
      })
      return `${open}${cut.join('')}</part>`
    })
    .join('')
  // Ink takes the page's colour, which may be light on dark.
  const own = head.replaceAll(SCORE_PART, (entry, id: string) => (drawn[id] === 'none' ? '' : entry))
  const score = `${isBare ? own.replaceAll(NAMES, (_all, name?: string) => (name ? `<${name}/>` : '')) : own}${body}</score-partwise>`
  return (isBare ? score.replaceAll(TEMPO_OR_REHEARSAL, '') : score).replaceAll(COLOUR, '')
}

/**
 * A finger of the lower staff for which the score says no place: it belongs under its note. The staff of a note is told
 * before its notations.
 */
const LOWER_FINGER = /(<staff\s*>\s*2\s*<\/staff\s*>(?:(?!<\/note>|<fingering)[^])*<fingering)\s*>/g

/** A bar with fingers at notes that have none. */
function withFingers(bar: string, fingers: Fingers): string {
  if (Object.keys(fingers).length === 0) return bar
  return bar.replaceAll(
    /<note\s[^>]*?\bid\s*=\s*["']([^"']*)["'][^>]*>(?:(?!<\/note>)[^])*<\/note>/g,
    (note, id: string) => {
      const own = fingers[id]
      if (!own || note.includes('<fingering')) return note
      const written = `<technical><fingering placement="${own.isBelow ? 'below' : 'above'}">${own.finger}</fingering></technical>`
      if (note.includes('<notations>')) return note.replace('<notations>', `<notations>${written}`)
      // Words come last in a note.
      return note.replace(/(?=<lyric[\s>]|<\/note>)/, `<notations>${written}</notations>`)
    },
  )
}

/** A bar that begins with all that is in force there. A meter is printed where the score prints one. */
function withAttributes(bar: string, inForce: InForce, how: Exclude<Drawn, 'none'>, isFirst: boolean): string {
  const [start, rest] = beginning(bar)
  const isMeterPrinted = isFirst || /<time[\s>]/.test(start)
  const elements = KINDS.flatMap(kind => {
    if (how === 'words' && (kind === 'key' || kind === 'clef'))
      return kind === 'clef' ? ['<clef><sign>percussion</sign></clef>'] : []
    if (kind === 'staff-details' && how !== 'full') return [DETAILS[how]]
    if (kind === 'time' && !isMeterPrinted) return []
    return [...inForce]
      .filter(([key]) => key.startsWith(`${kind} `))
      .sort(([one], [other]) => (one < other ? -1 : 1))
      .map(([, element]) => element)
  })
  return (
    start
      .replaceAll(ATTRIBUTES, '')
      .replace(
        /<measure[^>]*>/,
        open => `${open}<print new-system="yes"/><attributes>${elements.join('')}</attributes>`,
      ) + rest
  )
}

/** A bar without what the staves that are played say too: tempo words, dynamics, chord symbols. */
const silent = (bar: string): string =>
  bar.replaceAll(/<direction(?=[\s>])[^]*?<\/direction\s*>|<harmony(?=[\s>])[^]*?<\/harmony\s*>/g, '')

/**
 * A bar of a single line, whose notes lie on it and only take their time and carry their words: what is left of a staff
 * when nothing of it but the words is drawn.
 */
function wordsOnly(bar: string): string {
  return bar
    .replaceAll(/<key(?=[\s>])[^]*?<\/key\s*>/g, '')
    .replaceAll(
      /<beam(?=[\s>])[^>]*>[^<]*<\/beam\s*>|<notations(?=[\s>])[^]*?<\/notations\s*>|<stem(?=[\s>])[^>]*>[^<]*<\/stem\s*>|<accidental(?=[\s>])[^>]*>[^<]*<\/accidental\s*>/g,
      '',
    )
    .replaceAll(/<pitch(?=[\s>])[^]*?<\/pitch\s*>/g, '<pitch><step>E</step><octave>4</octave></pitch>')
    .replaceAll(/(<note(?=[\s>])(?:(?!<\/note>)[^])*<\/type\s*>(?:\s*<dot\s*\/>)*)/g, '$1<stem>none</stem>')
}
