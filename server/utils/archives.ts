import { onOwnConnection } from '../database/connection'
import { createWriteStream } from 'node:fs'
import { rm } from 'node:fs/promises'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { Readable } from 'node:stream'
import { pipeline } from 'node:stream/promises'
import type { H3Event } from 'h3'
import { ARCHIVE_ENDING, ARCHIVE_LIMITS } from '#core/archive/archive'
import { archiveFile, type ArchiveDocument } from '#shared/archive-file'
import { ServerBusy } from '../heavy/pool'
import { Refusal } from '../use-cases/refusal'
import { archiveDocuments, type ArchiveWanted } from '../use-cases/write-archive'

/** Archives written, and archives read, at one time: each has a connection and up to two threads of its own. */
const AT_ONCE = { written: 2, read: 2 } as const
/** No archive takes longer to write, ms, however slowly it is fetched. */
const MAX_MS = 15 * 60_000
const busy = { written: 0, read: 0 }

/** Does work with an archive while there is room for it. Throws Busy. */
async function withRoom<Made>(what: keyof typeof AT_ONCE, work: () => Promise<Made>): Promise<Made> {
  if (busy[what] >= AT_ONCE[what]) throw new ServerBusy(30)
  busy[what]++
  try {
    return await work()
  } finally {
    busy[what]--
  }
}

/**
 * Writes an archive to the reader of `file`, as of one moment; ends with an error when the signal is aborted, or after
 * a quarter of an hour.
 */
export async function writeArchive(
  ownerId: string,
  wanted: ArchiveWanted,
  at: Date,
  use: (file: Readable) => Promise<void>,
  gone?: AbortSignal,
): Promise<void> {
  const limit = AbortSignal.timeout(MAX_MS)
  await withRoom(
    'written',
    async () =>
      await onOwnConnection(
        async db =>
          await db.transaction(
            async tx => {
              await use(
                archiveFile(
                  untilGone(archiveDocuments(tx, ownerId, wanted, at), gone ? AbortSignal.any([gone, limit]) : limit),
                  at,
                ),
              )
            },
            { isolationLevel: 'repeatable read', accessMode: 'read only' },
          ),
      ),
  )
}

async function* untilGone(
  documents: AsyncIterable<ArchiveDocument>,
  gone: AbortSignal,
): AsyncGenerator<ArchiveDocument> {
  for await (const document of documents) {
    gone.throwIfAborted()
    yield document
  }
}

/** Sends an archive as the answer to a request. */
export async function sendArchive(
  event: H3Event,
  ownerId: string,
  wanted: ArchiveWanted,
  name: string,
  gone: AbortSignal,
): Promise<void> {
  await writeArchive(
    ownerId,
    wanted,
    new Date(),
    async file => {
      // What cannot be had at all is refused before anything is sent.
      const chunks = file[Symbol.asyncIterator]() as AsyncIterator<Buffer>
      const first = await chunks.next()
      setResponseHeaders(event, {
        'content-type': 'application/gzip',
        'content-disposition': `attachment; filename*=UTF-8''${encodeURIComponent(`${name}.${ARCHIVE_ENDING}`)}`,
      })
      await pipeline(
        Readable.from(
          (async function* () {
            if (!first.done) yield first.value
            yield* { [Symbol.asyncIterator]: () => chunks }
          })(),
        ),
        event.node.res,
      )
    },
    gone,
  )
}

/**
 * Saves the archive in a request's body to a temporary file, deleted after `use`. Throws a Refusal for an upload that
 * was broken off.
 */
export async function withUpload<Made>(event: H3Event, use: (path: string) => Promise<Made>): Promise<Made> {
  return await withRoom('read', async () => {
    const path = join(tmpdir(), `half-step-${crypto.randomUUID()}.${ARCHIVE_ENDING}`)
    try {
      let size = 0
      const said = Number(getRequestHeader(event, 'content-length'))
      await pipeline(
        event.node.req,
        async function* (chunks: AsyncIterable<Buffer>) {
          for await (const chunk of chunks) {
            size += chunk.length
            if (size > ARCHIVE_LIMITS.fileBytes)
              throw new Refusal(413, `an archive may have at most ${ARCHIVE_LIMITS.fileBytes} bytes`)
            yield chunk
          }
        },
        createWriteStream(path, { mode: 0o600 }),
      )
      if (size === 0) throw new Refusal(400, 'the file is empty; an archive of Half Step was expected')
      if (size !== said) throw new Refusal(400, 'the upload was broken off; nothing was changed')
      return await use(path)
    } finally {
      await rm(path, { force: true })
    }
  })
}
