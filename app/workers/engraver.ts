import { expose } from 'comlink'
import type { VerovioOptions } from 'verovio'
import { VerovioToolkit } from 'verovio/esm'
import createVerovioModule from 'verovio/wasm'

export interface EngravingRequest {
  /** Names the score, so that it is loaded once. */
  scoreId: string
  musicXml: string
  /** First and last bar by index from 0. */
  firstBar: number
  lastBar: number
  /** Width of the page and size of the notation, in CSS pixels and percent. */
  widthPx: number
  scale: number
  /** Room under the last system, in CSS pixels. */
  belowPx: number
  /** Without tempo and rehearsal marks, nor room for them: the page around it says both. */
  isBare: boolean
}

const MOST_KEPT = 40
/** A <direction> that holds a metronome mark or a rehearsal mark. */
const TEMPO_OR_REHEARSAL = /<direction\b(?:(?!<\/direction>)[^])*<(?:metronome|rehearsal)\b(?:(?!<\/direction>)[^])*<\/direction>/g
const kept = new Map<string, string>()
let toolkit: Promise<VerovioToolkit> | undefined
let loaded = ''

/** Engraves the bars as one SVG page whose notes carry the ids of the arrangement. Throws an Error for a score that cannot be engraved. */
async function engrave({ scoreId, musicXml, firstBar, lastBar, widthPx, scale, belowPx, isBare }: EngravingRequest): Promise<string> {
  const key = [scoreId, firstBar, lastBar, widthPx, scale, belowPx, isBare].join()
  const known = kept.get(key)
  if (known) return known
  const verovio = await (toolkit ??= createVerovioModule().then(module => new VerovioToolkit(module)))
  const options: VerovioOptions & { expandNever: boolean } = {
    pageWidth: Math.round(widthPx * 100 / scale), pageHeight: 60_000, scale, adjustPageHeight: true, breaks: 'auto',
    header: 'none', footer: 'none', svgViewBox: true, svgRemoveXlink: true, font: 'Leland', expandNever: true,
    pageMarginTop: 20, pageMarginBottom: Math.round(belowPx * 100 / scale), pageMarginLeft: 20, pageMarginRight: 20,
    spacingSystem: 36, spacingStaff: 10, lyricSize: 4.5, lyricWordSpace: 2, mnumInterval: 1, minLastJustification: 0.4,
  }
  verovio.setOptions(options)
  const wanted = `${scoreId} ${isBare}`
  if (loaded !== wanted) {
    loaded = ''
    if (!verovio.loadData(isBare ? musicXml.replace(TEMPO_OR_REHEARSAL, '') : musicXml)) throw new Error('this score cannot be engraved')
    loaded = wanted
  }
  verovio.select({ measureRange: `${firstBar + 1}-${lastBar + 1}` })
  verovio.redoLayout()
  const svg = verovio.renderToSVG(1)
  if (kept.size >= MOST_KEPT) kept.delete(kept.keys().next().value!)
  kept.set(key, svg)
  return svg
}

const engraver = { engrave }
export type Engraver = typeof engraver

expose(engraver)
