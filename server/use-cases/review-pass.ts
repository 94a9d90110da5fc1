import { setTimeout as delay } from 'node:timers/promises'
import { JUDGE_VERSION } from '#core/ear/assessment'
import { spanPassage, wholePassage } from '#core/music/passage'
import { keptPass, replaceJudgement, stalePasses, type KeptPass } from '../database/queries/passes'
import { firstPartId, stretchOf } from '../database/queries/parts'
import { ServerBusy, type WorkerPool } from '../heavy/pool'
import type { Database } from '../database/connection'
import { isDatabaseAway } from '../database/errors'

/**
 * A pass with everything its review shows. A judgement by an older judge is replaced first. Undefined when it is not
 * there.
 */
export async function reviewPass(db: Database, heavy: WorkerPool, ownerId: string, passId: string) {
  const row = await currentPass(db, heavy, ownerId, passId)
  if (!row) return undefined
  const { pass, song, arrangement, document: assessment } = row
  const { musicXml } = await heavy.run(ownerId, 'stand', {
    score: { arrangement: arrangement.document, musicXml: arrangement.musicXml },
  })
  return {
    id: pass.id,
    song: { id: song.id, title: song.title, isDrill: song.role === 'drill' },
    partId: pass.partId,
    partName: pass.partName,
    place: pass.place,
    stretch: stretchOf(pass),
    isWhole: isUnfolded(row),
    hands: pass.hands,
    mode: pass.mode,
    remark: pass.remark,
    delayMs: pass.keyboardDelayMs,
    bpm: pass.bpm,
    startedAt: pass.startedAt,
    arrangementId: arrangement.id,
    arrangement: arrangement.document,
    musicXml,
    assessment,
    cleanBefore: pass.cleanBefore,
    /** Where a place of it can be practised: the part it is of, or of a recording the song's first. */
    standAt: pass.partId ?? (await firstPartId(db, ownerId, arrangement.id)),
  }
}

/** A kept pass as this version of the ear judges it. */
export async function currentPass(
  db: Database,
  heavy: WorkerPool,
  ownerId: string,
  passId: string,
): Promise<KeptPass | undefined> {
  const row = await keptPass(db, ownerId, passId)
  if (!row || row.pass.ear >= JUDGE_VERSION) return row
  if (!(await rejudge(db, heavy, row))) return row
  return await keptPass(db, ownerId, passId)
}

/** A recording of the whole song, or a pass over it, was played with its repeats. */
function isUnfolded({ pass, document }: KeptPass): boolean {
  if (pass.partId === null && pass.mode === 'free') return true
  // Passes were once played as written: whether something came round again, or was to, stands in the assessment.
  return (
    document.notes.some(note => (note.time ?? 1) > 1) ||
    document.findings.some(finding => finding.kind === 'repeat-not-taken')
  )
}

/** Gives false for a take that cannot be judged any more: its older judgement stays. */
async function rejudge(db: Database, heavy: WorkerPool, row: KeptPass, owner = row.pass.ownerId): Promise<boolean> {
  const {
    pass,
    arrangement: { document: arrangement },
  } = row
  const stretch = stretchOf(pass)
  const judged = await heavy.run(owner, 'again', {
    arrangement,
    midi: new Uint8Array(row.midi),
    played: {
      passage: isUnfolded(row)
        ? wholePassage(arrangement, pass.hands)
        : spanPassage(stretch.from, stretch.to, pass.hands),
      mode: pass.mode,
      bpm: pass.mode === 'free' ? undefined : pass.bpm,
      offsetMs: pass.keyboardDelayMs,
      strictness: pass.strictness,
    },
  })
  if ('refused' in judged) return false
  // What was reached under the older judgement stays reached.
  const before = pass.cleanBefore ?? pass.clean
  const cleanBefore = before === judged.columns.clean ? null : before
  await replaceJudgement(db, pass, { ...judged.columns, cleanBefore }, judged.assessment)
  return true
}

/** Passes of a player judged again before a list of them is shown. */
const BEFORE_A_LIST = 25

/** Judges a player's newest outdated passes again, so that what is read next is current. */
export async function refreshPasses(db: Database, heavy: WorkerPool, ownerId: string): Promise<void> {
  for (const { id } of await stalePasses(db, JUDGE_VERSION, BEFORE_A_LIST, ownerId))
    await currentPass(db, heavy, ownerId, id)
}

/** Between two passes there is time for everything else, and more of it while the server is busy, ms. */
const PAUSE_MS = { usual: 150, busy: 5_000 } as const
const BATCH = 20
/** Background work queues as a player of its own. */
const AT_LEISURE = 'older passes'

/**
 * Judges all outdated passes again in the background; ends when none is left or `isOver`. A pass that cannot be judged
 * is logged once and left as it is.
 */
export async function refreshAllInBackground(db: Database, heavy: WorkerPool, isOver: () => boolean): Promise<void> {
  const failed = new Set<string>()
  while (!isOver()) {
    const batch = (await stalePasses(db, JUDGE_VERSION, BATCH + failed.size)).filter(({ id }) => !failed.has(id))
    if (batch.length === 0) return
    for (const { id, ownerId } of batch) {
      if (isOver()) return
      try {
        const row = await keptPass(db, ownerId, id)
        if (row && row.pass.ear < JUDGE_VERSION && !(await rejudge(db, heavy, row, AT_LEISURE)))
          throw new Error('its take cannot be read')
      } catch (error) {
        if (error instanceof ServerBusy || isDatabaseAway(error)) {
          await delay(PAUSE_MS.busy)
          continue
        }
        failed.add(id)
        console.error(`pass ${id} could not be judged anew:`, error instanceof Error ? error.message : error)
      }
      await delay(PAUSE_MS.usual)
    }
  }
}
