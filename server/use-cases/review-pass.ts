import { standScore } from '#core/formats/musicxml/stand-score'
import { setTimeout as delay } from 'node:timers/promises'
import { EAR_VERSION } from '#core/ear/assessment'
import { readTake } from '#core/formats/midi/read-take'
import { stretchPassage, wholePassage } from '#core/music/passage'
import { keptPass, replaceJudgement, stalePasses, type KeptPass } from '../database/queries/passes'
import { firstPartId, stretchOf } from '../database/queries/songs'
import type { Database } from '../utils/database'
import { judgePass } from './judge-pass'

/** A pass with everything its review shows. What an older ear judged is judged anew first. Undefined when it is not there. */
export async function reviewPass(db: Database, ownerId: string, passId: string) {
  const row = await currentPass(db, ownerId, passId)
  if (!row) return undefined
  const { pass, song, arrangement, document: assessment } = row
  return {
    id: pass.id, song: { id: song.id, title: song.title }, partId: pass.partId, partName: pass.partName, place: pass.place, stretch: stretchOf(pass), isWhole: isUnfolded(row), hands: pass.hands, mode: pass.mode,
    remark: pass.remark, bpm: pass.bpm, startedAt: pass.startedAt, arrangementId: arrangement.id, arrangement: arrangement.document, musicXml: standScore({ arrangement: arrangement.document, musicXml: arrangement.musicXml }), assessment,
    cleanBefore: pass.cleanBefore,
    /** Where a place of it can be practised: the part it is of, or of a recording the song's first. */
    standAt: pass.partId ?? await firstPartId(db, ownerId, arrangement.id),
  }
}

/** A kept pass as this version of the ear judges it. */
export async function currentPass(db: Database, ownerId: string, passId: string): Promise<KeptPass | undefined> {
  const row = await keptPass(db, ownerId, passId)
  if (!row || row.pass.ear >= EAR_VERSION) return row
  await judgeAnew(db, row)
  return await keptPass(db, ownerId, passId)
}

/** A recording of the whole song, or a pass over it, was played with its repeats. */
function isUnfolded({ pass, document }: KeptPass): boolean {
  if (pass.partId === null && pass.mode === 'free') return true
  // Passes were once played as written: whether something came round again, or was to, stands in the assessment.
  return document.notes.some(note => (note.time ?? 1) > 1) || document.findings.some(finding => finding.kind === 'repeat-not-taken')
}

async function judgeAnew(db: Database, row: KeptPass): Promise<void> {
  const { pass, arrangement: { document: arrangement } } = row
  const stretch = stretchOf(pass)
  const { assessment, columns } = judgePass(arrangement, {
    passage: isUnfolded(row) ? wholePassage(arrangement, pass.hands) : stretchPassage(stretch.from, stretch.to, pass.hands), take: readTake(new Uint8Array(row.midi)),
    mode: pass.mode, bpm: pass.mode === 'free' ? undefined : pass.bpm, offsetMs: pass.keyboardDelayMs, strictness: pass.strictness,
  })
  await replaceJudgement(db, pass, columns, assessment)
}

/** So many passes of a player are judged anew before a list of them is shown. */
const BEFORE_A_LIST = 25

/** Judges the newest passes of a player anew that an older ear had judged, so that what is read next is current. */
export async function refreshPasses(db: Database, ownerId: string): Promise<void> {
  for (const { id } of await stalePasses(db, EAR_VERSION, BEFORE_A_LIST, ownerId)) await currentPass(db, ownerId, id)
}

/** Between two passes the server has time for everything else, ms. */
const PAUSE_MS = 150
const BATCH = 20

/** Judges all passes of older ears anew, at leisure; ends when none is left or `isOver`. A pass that cannot be judged is told once and left as it is. */
export async function refreshAllAtLeisure(db: Database, isOver: () => boolean): Promise<void> {
  const failed = new Set<string>()
  while (!isOver()) {
    const batch = (await stalePasses(db, EAR_VERSION, BATCH + failed.size)).filter(({ id }) => !failed.has(id))
    if (batch.length === 0) return
    for (const { id, ownerId } of batch) {
      if (isOver()) return
      try {
        await currentPass(db, ownerId, id)
      }
      catch (error) {
        failed.add(id)
        console.error(`pass ${id} could not be judged anew:`, error instanceof Error ? error.message : error)
      }
      await delay(PAUSE_MS)
    }
  }
}
