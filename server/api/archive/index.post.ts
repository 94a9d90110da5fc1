import { onOwnConnection } from '../../database/connection'
import { createReadStream } from 'node:fs'
import { Refusal } from '../../use-cases/refusal'
import { restoreArchive } from '../../use-cases/restore-archive'
import type { RestoringLine } from '#shared/utils/restoring'

/**
 * Restores an archive (the bytes of the file) into the player's account, all or nothing. Answers, once the file is
 * here, with lines of JSON: how many passes of how many are done, and at last what was restored, or why nothing was.
 */
export default forPlayer(async ({ event, playerId }) => {
  await withUpload(event, async path => {
    setResponseHeader(event, 'content-type', 'application/x-ndjson')
    const { res } = event.node
    const tell = (line: RestoringLine) =>
      void (res.writableEnded || res.destroyed || res.write(`${JSON.stringify(line)}\n`))
    tell({ done: 0, of: 0 })
    try {
      const restored = await onOwnConnection(
        async db =>
          await restoreArchive(db, workerPool(), playerId, createReadStream(path), (done, of) => tell({ done, of })),
      )
      tell({ restored })
    } catch (error) {
      if (!(error instanceof Refusal))
        console.error('an archive could not be restored:', error instanceof Error ? error.message : error)
      tell({
        refused:
          error instanceof Refusal
            ? error.message
            : 'the archive could not be restored just now; nothing was changed, please try again',
      })
    }
    res.end()
  })
})
