import { Key, Note } from 'tonal'
import { spellSymbol, type ChordSpelling } from '../../music/chord-symbol'
import type { Meter } from '../../music/meter'
import { LIMITS } from '../../music/limits'
import { UnusableInput } from '../unusable'
import type { Chart, ChartBar, ChartChord, ChartSection } from './chart'

/** `x3` behind a repeat sign: so many times in all. */
const TIMES = /^[x×](\d{1,2})\b/i
const NO_CHORD = /^(n\.?c\.?|-)$/i

/**
 * Reads a chord chart as text: plain bars and slashes (`| C / G/B / | Am / / / |`, a slash a beat; `%` repeats a bar;
 * `|: … :| x3` plays it again; `[Verse]` begins a section; `title:`, `key:`, `meter:`, `tempo:` lines) or ChordPro
 * (directives in braces, chords in brackets over the words, grids). `meter` is that of a chart that names none. Throws
 * UnusableInput with the line.
 */
export function readChart(text: string, meter: Meter = { beats: 4, beatType: 4 }): Chart {
  if (text.length > LIMITS.chartCharacters)
    throw new UnusableInput('', `the chart has ${text.length} characters; at most ${LIMITS.chartCharacters} are read`)
  // Between bars in strokes a line such as [A] is a section; over words it is a chord.
  const reader = new ChartReader(HAS_STROKES.test(text), meter)
  text.split(/\r\n?|\n/).forEach((line, index) => {
    if (line.length > LIMITS.chartLine)
      throw new UnusableInput(
        `line ${index + 1}`,
        `it has ${line.length} characters; at most ${LIMITS.chartLine} are read`,
      )
    reader.line(line.trim(), index + 1)
  })
  return reader.end()
}

/**
 * Patterns over players' text look at each character a fixed number of times: no blanks that two of their pieces could
 * share.
 */
const HAS_STROKES = /^[^\S\r\n]*\|/m
const HAS_DIRECTIVE = /^[^\S\r\n]*\{[\w-]+[:}]/m
const HAS_CHORD = /\[[A-G][^\]\n]{0,12}\]/

/** Whether a text looks like a chord chart of either kind. */
export const isChart = (text: string): boolean =>
  text.length <= LIMITS.chartCharacters && (HAS_STROKES.test(text) || HAS_DIRECTIVE.test(text) || HAS_CHORD.test(text))

class ChartReader {
  private readonly chart: Chart
  constructor(
    private readonly hasStrokes: boolean,
    meter: Meter,
  ) {
    this.chart = { title: '', composer: '', meter, sections: [], hasBars: false }
  }

  private section: ChartSection | undefined
  private bars = 0
  private repeatFrom = 0
  private inGrid = false
  private skipped: string | undefined
  private known = new Map<string, ChordSpelling>()

  line(line: string, number: number) {
    if (this.skipped !== undefined) {
      if (new RegExp(`^\\{(end_of_${this.skipped}|eo${this.skipped[0]})\\}`, 'i').test(line)) this.skipped = undefined
      return
    }
    const directive = directiveOf(line)
    const heading = /^(title|composer|key|meter|time|tempo)\s*:(.+)$/i.exec(line)
    const section = /^\[([^\]|]+)\]:?$/.exec(line)
    if (line === '' || line.startsWith('#')) return
    if (directive) this.directive(directive.name, directive.value, number)
    else if (heading) this.heading(heading[1]!.toLowerCase(), heading[2]!.trim(), number)
    else if (line.startsWith('|') || this.inGrid) this.barLine(line, number)
    else if (section && (this.hasStrokes || !this.isSymbol(section[1]!))) this.begin(section[1]!)
    else if (line.includes('[')) this.wordLine(line, number)
    // Words without chords are sung to what sounds already: nothing to play.
  }

  end(): Chart {
    this.chart.sections = this.chart.sections.filter(section => section.bars.length > 0)
    if (this.bars === 0)
      throw new UnusableInput(
        '',
        'no chord was found; bars such as "| C / G/B / |" or chords in brackets over words were expected',
      )
    return this.chart
  }

  private directive(name: string, value: string, line: number) {
    const begins = /^(?:start_of_|so)(\w+)$/.exec(name)?.[1]
    if (name === 'title' || name === 't') this.chart.title = value.slice(0, LIMITS.textLength)
    else if (['composer', 'artist', 'subtitle', 'st'].includes(name))
      this.chart.composer ||= value.slice(0, LIMITS.textLength)
    else if (['key', 'time', 'tempo'].includes(name)) this.heading(name, value, line)
    else if (begins === 'grid' || begins === 'g') {
      this.inGrid = true
      if (value) this.begin(labelOf(value))
    } else if (name === 'end_of_grid' || name === 'eog') this.inGrid = false
    // Tablature, ABC and the like hold no chords to read.
    else if (begins && ['tab', 't', 'abc', 'ly', 'svg', 'textblock'].includes(begins))
      this.skipped = begins === 't' ? 'tab' : begins
    else if (begins)
      this.begin(
        labelOf(value) ||
          { v: 'Verse', verse: 'Verse', c: 'Chorus', chorus: 'Chorus', b: 'Bridge', bridge: 'Bridge' }[begins] ||
          begins,
      )
    else if (name === 'chorus') this.again(value)
  }

  private heading(name: string, value: string, line: number) {
    if (name === 'title') this.chart.title = value.slice(0, LIMITS.textLength)
    else if (name === 'composer') this.chart.composer = value.slice(0, LIMITS.textLength)
    else if (name === 'key') this.chart.fifths = keySignature(value, line)
    else if (name === 'tempo') {
      const bpm = Number.parseFloat(value)
      if (!(bpm >= 5 && bpm <= 1000))
        throw new UnusableInput(`line ${line}`, `a tempo from 5 to 1000 was expected and is "${value.slice(0, 20)}"`)
      this.chart.tempoBpm = bpm
    } else {
      if (this.bars > 0) throw new UnusableInput(`line ${line}`, 'the meter must stand before the first bar')
      this.chart.meter = readMeter(value, line)
    }
  }

  private begin(name: string) {
    if (this.chart.sections.length >= LIMITS.sections)
      throw new UnusableInput('', `more than ${LIMITS.sections} sections`)
    this.repeatFrom = 0
    this.section = { name: name.trim().slice(0, LIMITS.textLength), bars: [] }
    this.chart.sections.push(this.section)
  }

  /** `{chorus}`: the last section of that name once more. */
  private again(name: string) {
    const wanted = (name || 'Chorus').toLowerCase()
    const before = this.chart.sections.findLast(section => section.name.toLowerCase().startsWith(wanted))
    if (!before) return
    this.begin(before.name)
    for (const bar of before.bars) this.add(bar, 0)
  }

  private add(bar: ChartBar, line: number) {
    if (++this.bars > LIMITS.bars) throw new UnusableInput(`line ${line}`, `more than ${LIMITS.bars} bars`)
    if (!this.section) this.begin('')
    this.section!.bars.push(bar)
  }

  private barLine(text: string, line: number) {
    this.chart.hasBars = true
    const pieces = text
      .split(/(\|\|?:?|:\|\|?|\|[.\]])/)
      .map(piece => piece.trim())
      .filter(piece => piece !== '')
    pieces.forEach((piece, index) => {
      if (TIMES.test(piece)) return
      if (!/^[|:.\]]+$/.test(piece)) this.add(this.readBar(piece, line), line)
      else if (piece.startsWith(':')) this.repeat(Number(TIMES.exec(pieces[index + 1] ?? '')?.[1] ?? 2), line)
      else if (piece.endsWith(':')) this.repeatFrom = this.section?.bars.length ?? 0
    })
  }

  /** The bars since the last repeat sign, `times` times in all. */
  private repeat(times: number, line: number) {
    const bars = this.section?.bars.slice(this.repeatFrom) ?? []
    for (let time = 1; time < times; time++) for (const bar of bars) this.add(bar, line)
    this.repeatFrom = this.section?.bars.length ?? 0
  }

  private readBar(content: string, line: number): ChartBar {
    const tokens = content.split(/\s+/)
    const { beats } = this.chart.meter
    if (tokens.length === 1 && ['%', 'simile'].includes(tokens[0]!)) {
      const before = this.section?.bars.at(-1)
      if (!before) throw new UnusableInput(`line ${line}`, '"%" repeats the bar before, and there is none')
      return before
    }
    const hasSlashes = tokens.some(token => token === '/' || token === '.')
    if (tokens.length > beats || (hasSlashes ? tokens.length !== beats : beats % tokens.length !== 0)) {
      throw new UnusableInput(
        `line ${line}`,
        `the bar "${content.slice(0, 40)}" has ${tokens.length} ${tokens.length === 1 ? 'beat' : 'beats'} and the meter has ${beats}; a chord or a slash a beat was expected`,
      )
    }
    const step = beats / tokens.length
    return {
      chords: tokens.flatMap((token, index): ChartChord[] =>
        token === '/' || token === '.' ? [] : [{ beat: index * step, chord: this.symbol(token, line) }],
      ),
    }
  }

  /** Chords over words: each has a bar of its own. */
  private wordLine(text: string, line: number) {
    const before = text.slice(0, text.indexOf('[')).trim()
    const last = this.section?.bars.at(-1)?.chords.at(-1)
    if (before && last) last.words = `${last.words ?? ''} ${before}`.trim().slice(0, LIMITS.textLength)
    for (const [, symbol, words] of text.matchAll(/\[([^[\]]*)\]([^[]*)/g)) {
      if (symbol!.startsWith('*') || symbol === '') continue
      const chord = this.symbol(symbol!, line)
      this.add(
        {
          chords: [{ beat: 0, chord, ...(words!.trim() ? { words: words!.trim().slice(0, LIMITS.textLength) } : {}) }],
        },
        line,
      )
    }
  }

  private isSymbol(text: string): boolean {
    if (text.length > LIMITS.symbolCharacters) return false
    try {
      spellSymbol(text)
      return true
    } catch {
      return NO_CHORD.test(text)
    }
  }

  private symbol(text: string, line: number): ChordSpelling | undefined {
    if (NO_CHORD.test(text)) return undefined
    if (text.length > LIMITS.symbolCharacters)
      throw new UnusableInput(
        `line ${line}`,
        `the chord symbol "${text.slice(0, 20)}…" has ${text.length} characters; at most ${LIMITS.symbolCharacters} are read`,
      )
    try {
      let chord = this.known.get(text)
      if (!chord) this.known.set(text, (chord = spellSymbol(text)))
      return chord
    } catch (error) {
      if (error instanceof RangeError) throw new UnusableInput(`line ${line}`, error.message)
      throw error
    }
  }
}

/** `{name: value}` or `{name value}`: its name and value, without the blanks around them. */
function directiveOf(line: string): { name: string; value: string } | undefined {
  if (!line.startsWith('{') || !line.endsWith('}')) return undefined
  const inside = line.slice(1, -1).trim()
  const name = /^[\w-]+/.exec(inside)?.[0]
  const rest = inside.slice(name?.length ?? 0)
  if (name === undefined || !/^(?:$|[:\s])/.test(rest)) return undefined
  return { name: name.toLowerCase(), value: rest.trim().replace(/^:/, '').trim() }
}

const labelOf = (value: string): string => /label\s*=\s*"([^"]*)"/.exec(value)?.[1] ?? value

function readMeter(value: string, line: number): Meter {
  const [, beats, beatType] = /^(\d{1,2})\s*\/\s*(\d{1,2})$/.exec(value.trim()) ?? []
  const meter = { beats: Number(beats), beatType: Number(beatType) }
  if (!(meter.beats >= 1 && meter.beats <= 32 && [1, 2, 4, 8, 16].includes(meter.beatType)))
    throw new UnusableInput(`line ${line}`, `a meter such as 4/4 was expected and is "${value.slice(0, 20)}"`)
  return meter
}

function keySignature(value: string, line: number): number {
  const [, tonic, minor] = /^([A-G][#b♯♭]?)\s*(m(?:in(?:or)?)?\b|-)?/.exec(value.trim()) ?? []
  const name = tonic?.replace('♯', '#').replace('♭', 'b')
  if (!name || Note.get(name).empty)
    throw new UnusableInput(`line ${line}`, `a key such as Bb or F#m was expected and is "${value.slice(0, 20)}"`)
  const fifths = minor ? Key.minorKey(name).keySignature : Key.majorKey(name).keySignature
  const count = fifths.startsWith('#') ? fifths.length : -fifths.length
  if (Math.abs(count) > 7)
    throw new UnusableInput(`line ${line}`, `the key "${value.slice(0, 20)}" has more than seven signs`)
  return count
}
