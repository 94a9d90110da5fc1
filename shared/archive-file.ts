import { pipeline, type Readable } from 'node:stream'
import { createGunzip, createGzip } from 'node:zlib'
import { extract, pack } from 'tar-stream'
import { ARCHIVE_LIMITS } from '#core/archive/archive'
import { UnusableInput } from '#core/formats/unusable'

/** A document of an archive's file. */
export interface ArchiveDocument {
  path: string
  bytes: Uint8Array
}

/**
 * The documents as a tar file compressed with gzip. A document is asked for when there is room for it. `at`: when they
 * were written.
 */
export function archiveFile(documents: AsyncIterable<ArchiveDocument>, at: Date): Readable {
  const tar = pack()
  const file = createGzip({ level: 6 })
  pipeline(tar, file, () => {
    /* whoever reads the file is told by its end */
  })
  void (async () => {
    try {
      for await (const { path, bytes } of documents) {
        await new Promise<void>((resolve, reject) => {
          tar.entry(
            { name: path, size: bytes.length, mtime: at, mode: 0o644 },
            Buffer.from(bytes.buffer, bytes.byteOffset, bytes.length),
            error => (error ? reject(error) : resolve()),
          )
        })
        if (file.destroyed) return
      }
      tar.finalize()
    } catch (error) {
      file.destroy(error instanceof Error ? error : new Error(String(error)))
    }
  })()
  return file
}

/**
 * The documents of an archive's file, one after the other. Throws UnusableInput for a file that is no archive, is
 * damaged, or is cut off.
 */
export async function* documentsOf(file: Readable): AsyncGenerator<ArchiveDocument> {
  const tar = extract()
  let failure: Error | undefined
  pipeline(file, createGunzip(), tar, error => {
    failure ??= error ?? undefined
  })
  let unpacked = 0
  try {
    for await (const entry of tar) {
      const { name, size = 0, type } = entry.header
      if (type === 'directory') {
        entry.resume()
        continue
      }
      if (type !== 'file') throw new UnusableInput(name.slice(0, 200), 'only plain documents were expected')
      unpacked += size
      if (size > ARCHIVE_LIMITS.documentBytes || unpacked > ARCHIVE_LIMITS.unpackedBytes)
        throw new UnusableInput(name.slice(0, 200), 'it is larger than any document of an archive')
      const chunks: Uint8Array[] = []
      for await (const chunk of entry) chunks.push(chunk as Uint8Array)
      yield { path: name, bytes: Buffer.concat(chunks) }
    }
  } catch (error) {
    if (error instanceof UnusableInput) throw error
    throw unusable(failure ?? error)
  } finally {
    file.destroy()
  }
  if (failure) throw unusable(failure)
}

function unusable(error: unknown): Error {
  const code = (error as NodeJS.ErrnoException).code ?? ''
  if (code === 'Z_DATA_ERROR' && /header check/.test((error as Error).message))
    return new UnusableInput('', 'this is no archive of Half Step: it is not compressed with gzip')
  if (code === 'Z_BUF_ERROR') return new UnusableInput('', 'the archive is cut off: the end of the file is missing')
  if (code.startsWith('Z_')) return new UnusableInput('', 'the archive is damaged: it cannot be unpacked to its end')
  if (/tar|header|checksum|Unexpected end/i.test((error as Error).message))
    return new UnusableInput(
      '',
      'this is no archive of Half Step, or it is cut off: it cannot be taken apart as a tar file',
    )
  return error as Error
}
