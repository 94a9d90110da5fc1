import type { ReadScore } from '#core/formats/musicxml/read'
import type { Arrangement } from '#core/music/arrangement'

/**
 * A score between a thread and the database: its document as JSON text, so that the thread that answers requests
 * carries it without reading it (40,000 notes as objects hold it for hundreds of ms), and what is kept beside it.
 */
export interface ScoreText extends Pick<Arrangement, 'title' | 'composer' | 'warnings'> {
  bars: number
  document: string
  musicXml: string
}

export const toText = ({ arrangement, musicXml }: ReadScore): ScoreText => ({
  title: arrangement.title,
  composer: arrangement.composer,
  warnings: arrangement.warnings,
  bars: arrangement.bars.length,
  document: JSON.stringify(arrangement),
  musicXml,
})

export const fromText = ({ document, musicXml }: Pick<ScoreText, 'document' | 'musicXml'>): ReadScore => ({
  arrangement: JSON.parse(document) as Arrangement,
  musicXml,
})
