import { bytesToHex } from '@noble/hashes/utils'
import { sha256 } from '@noble/hashes/sha2'
import { expose } from 'comlink'
import type { VerovioOptions } from 'verovio'
import type { VerovioToolkit } from 'verovio/esm'
import { excerpt, scoreText, type Drawn, type Fingers, type ScoreText } from '#core/formats/musicxml/excerpt'
import type { BarSize } from '#core/music/page'
import { barSizes, UNITS_A_SPACE } from './bar-sizes'
import { keptEngravings } from './kept-engravings'
import { UNKNOWN_SCORE } from './unknown-score'

/** Some bars of a score, by index from 0. `drawn` tells of parts, by id, that are not drawn as they stand. */
export interface Bars {
  scoreId: string
  firstBar: number
  lastBar: number
  drawn?: Readonly<Record<string, Drawn>>
}

/** Bars on as many rows as they need. */
export interface SheetRequest extends Bars {
  /** Width of the page and size of the notation, in CSS pixels and percent. */
  widthPx: number
  scale: number
  /** Room under each system for marks at its notes, in CSS pixels. */
  belowPx: number
  /** Without what the page around it says: names of instruments, tempo and rehearsal marks. */
  isBare: boolean
}

/**
 * Bars on one row of a width, drawn smaller than at `spacePx` (a staff space in CSS pixels) where they would be higher
 * than `mostHeightPx`.
 */
export interface RowRequest extends Bars {
  widthPx: number
  spacePx: number
  mostHeightPx: number
  /** Fingers to be written at notes that have none. */
  fingers?: Fingers
}

export interface EngravedRow {
  svg: string
  spacePx: number
  heightPx: number
}

const MAX_SCORES = 6
/** Bars are measured in groups, so that one high note makes room for itself and not for the whole song. */
const MEASURED_TOGETHER = 8
/** A row is drawn again this often, smaller each time, to fit into its height. */
const MAX_TRIES = 4
/** Pixels of a staff space at the engraver's scale of 100. */
const PX_AT_100 = UNITS_A_SPACE / 10

/** Scores by the names they were given; what is kept of them goes by what stands in them. */
const scores = new Map<string, ScoreText & { hash: string }>()
const kept = keptEngravings()
let toolkit: Promise<VerovioToolkit> | undefined

/** The engraver is large, and loaded only when something is not in the cache. */
const verovio = () =>
  (toolkit ??= Promise.all([import('verovio/wasm'), import('verovio/esm')]).then(
    async ([{ default: createVerovioModule }, esm]) => new esm.VerovioToolkit(await createVerovioModule()),
  ))

/** Gets ready to engrave. */
const warm = async () => void (await verovio())

/** Keeps a score under a name, to engrave bars of it. */
function take(scoreId: string, musicXml: string): void {
  if (scores.size >= MAX_SCORES) scores.delete(scores.keys().next().value!)
  scores.set(scoreId, { ...scoreText(musicXml), hash: bytesToHex(sha256(musicXml)) })
}

function scoreOf(scoreId: string) {
  const score = scores.get(scoreId)
  if (!score) throw new Error(UNKNOWN_SCORE)
  return score
}

async function engrave(musicXml: string, options: VerovioOptions): Promise<string> {
  const all: VerovioOptions & { expandNever: boolean } = {
    pageHeight: 60_000,
    scale: 100,
    adjustPageHeight: true,
    header: 'none',
    footer: 'none',
    svgViewBox: true,
    svgRemoveXlink: true,
    font: 'Leland',
    expandNever: true,
    pageMarginTop: 0,
    pageMarginBottom: 0,
    pageMarginLeft: 0,
    pageMarginRight: 0,
    spacingStaff: 10,
    lyricSize: 4.5,
    lyricWordSpace: 2,
    mnumInterval: 1,
    minLastJustification: 0.4,
    ...options,
  }
  const engraver = await verovio()
  engraver.setOptions(all)
  if (!engraver.loadData(musicXml)) throw new Error('this score cannot be engraved')
  return engraver.renderToSVG(1)
}

/**
 * Engraves the bars as one SVG page whose notes carry the ids of the arrangement. Throws an Error for a score that
 * cannot be engraved.
 */
async function sheet({
  scoreId,
  firstBar,
  lastBar,
  drawn,
  widthPx,
  scale,
  belowPx,
  isBare,
}: SheetRequest): Promise<string> {
  const score = scoreOf(scoreId)
  return await kept(
    ['sheet', score.hash, firstBar, lastBar, drawn, widthPx, scale, belowPx, isBare],
    async () =>
      await engrave(excerpt(score, firstBar, lastBar, { drawn, isBare }), {
        pageWidth: Math.round((widthPx * 100) / scale),
        scale,
        breaks: 'auto',
        spacingSystem: belowPx > 0 ? 36 : 12,
        pageMarginTop: 20,
        pageMarginBottom: Math.max(20, Math.round((belowPx * 100) / scale)),
        pageMarginLeft: 20,
        pageMarginRight: 20,
      }),
  )
}

/** Engraves the bars as one row, bare of what the page around it says. Throws as `sheet` does. */
async function row({
  scoreId,
  firstBar,
  lastBar,
  drawn,
  widthPx,
  spacePx,
  mostHeightPx,
  fingers,
}: RowRequest): Promise<EngravedRow> {
  const score = scoreOf(scoreId)
  return await kept(
    ['row', score.hash, firstBar, lastBar, drawn, widthPx, spacePx.toFixed(2), Math.round(mostHeightPx), fingers],
    async () => {
      const text = excerpt(score, firstBar, lastBar, { drawn, isBare: true, fingers })
      for (let [tries, px] = [1, spacePx]; ; tries++) {
        const svg = await engrave(text, {
          pageWidth: Math.round((widthPx * PX_AT_100) / px),
          breaks: 'encoded',
          minLastJustification: 0,
        })
        const heightPx = (Number(/viewBox="0 0 \d+ (\d+)"/.exec(svg)?.[1]) * px) / PX_AT_100
        if (heightPx <= mostHeightPx || tries === MAX_TRIES) return { svg, spacePx: px, heightPx }
        px *= mostHeightPx / heightPx
      }
    },
  )
}

/** The room that each of the bars takes. Throws as `sheet` does. */
async function sizes({ scoreId, firstBar, lastBar, drawn }: Bars): Promise<BarSize[]> {
  const score = scoreOf(scoreId)
  const found: BarSize[] = []
  for (let chunk = Math.floor(firstBar / MEASURED_TOGETHER); chunk * MEASURED_TOGETHER <= lastBar; chunk++) {
    const from = chunk * MEASURED_TOGETHER
    found.push(
      ...(await kept(['sizes', score.hash, chunk, drawn], async () => {
        const to = Math.min(from + MEASURED_TOGETHER, score.parts[0]?.bars.length ?? 0) - 1
        const svg = await engrave(excerpt(score, from, to, { drawn, isBare: true }), {
          pageWidth: 60_000,
          breaks: 'none',
        })
        return barSizes(svg, fifthsAt(score, from))
      })),
    )
  }
  return found.slice(firstBar % MEASURED_TOGETHER, (firstBar % MEASURED_TOGETHER) + lastBar - firstBar + 1)
}

const fifthsAt = ({ parts }: ScoreText, bar: number): number =>
  Math.max(
    0,
    ...parts.flatMap(({ inForce }) =>
      [...(inForce[bar] ?? [])].flatMap(([key, element]) =>
        key.startsWith('key') ? [Math.abs(Number(/<fifths[^>]*>\s*(-?\d+)/.exec(element)?.[1] ?? 0))] : [],
      ),
    ),
  )

const engraver = { warm, take, sheet, row, sizes }
export type Engraver = typeof engraver

expose(engraver)
