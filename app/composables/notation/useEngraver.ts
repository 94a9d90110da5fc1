import { wrap, type Remote } from 'comlink'
import { UNKNOWN_SCORE } from '~/workers/unknown-score'
import type { Bars, EngravedRow, Engraver, RowRequest, SheetRequest } from '~/workers/engraver'
import type { BarSize } from '#core/music/page'

/** A score to engrave bars of: its name, which changes whenever the score does, and its MusicXML. */
export interface ScoreToEngrave {
  scoreId: string
  musicXml: string
}

let engraver: Remote<Engraver> | undefined
const startWorker = (): Remote<Engraver> =>
  (engraver ??= wrap<Engraver>(
    new Worker(new URL('../../workers/engraver.ts', import.meta.url), { type: 'module', name: 'engraver' }),
  ))
/** The scores that the worker was given last, by name; it may have let go of some. */
const given = new Map<string, string>()
const MAX_GIVEN = 6

/** The one engraver of the page: a worker with the notation library, started when it is first asked for something. */
export function useEngraver(worker: () => Remote<Engraver> = startWorker) {
  async function asked<Made>(
    { scoreId, musicXml }: ScoreToEngrave,
    ask: (engraver: Remote<Engraver>) => Promise<Made>,
  ): Promise<Made> {
    const isNew = given.get(scoreId) !== musicXml
    if (isNew) {
      if (given.size >= MAX_GIVEN) given.delete(given.keys().next().value!)
      given.set(scoreId, musicXml)
      void worker().take(scoreId, musicXml)
    }
    try {
      return await ask(worker())
    } catch (error) {
      if (isNew || !(error instanceof Error) || error.message !== UNKNOWN_SCORE) throw error
      await worker().take(scoreId, musicXml)
      return await ask(worker())
    }
  }
  return {
    /** Gets ready, while the page rests. */
    warm: () => void worker().warm(),
    sheet: async (score: ScoreToEngrave, request: Omit<SheetRequest, 'scoreId'>): Promise<string> =>
      await asked(score, async one => await one.sheet({ ...request, scoreId: score.scoreId })),
    row: async (score: ScoreToEngrave, request: Omit<RowRequest, 'scoreId'>): Promise<EngravedRow> =>
      await asked(score, async one => await one.row({ ...request, scoreId: score.scoreId })),
    sizes: async (score: ScoreToEngrave, request: Omit<Bars, 'scoreId'>): Promise<BarSize[]> =>
      await asked(score, async one => await one.sizes({ ...request, scoreId: score.scoreId })),
  }
}
