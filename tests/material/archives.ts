/** Archives taken apart and put together again, for the tests of them. */
import { createHash } from 'node:crypto'
import { Readable } from 'node:stream'
import { archiveFile, documentsOf } from '../../shared/archive-file'

export const SUMS = 'half-step/SHA256SUMS'
export type Documents = Map<string, Buffer>

export async function unpacked(file: Buffer): Promise<Documents> {
  const documents: Documents = new Map()
  for await (const { path, bytes } of documentsOf(Readable.from([file]))) documents.set(path, Buffer.from(bytes))
  return documents
}

export async function packed(documents: Documents): Promise<Buffer> {
  const chunks: Buffer[] = []
  for await (const chunk of archiveFile((async function* () { for (const [path, bytes] of documents) yield { path, bytes } })(), new Date())) chunks.push(chunk as Buffer)
  return Buffer.concat(chunks)
}

/** The documents with sums that are theirs. */
export function summed(documents: Documents): Documents {
  const all = [...documents].filter(([path]) => path !== SUMS)
  return new Map([...all, [SUMS, Buffer.from(all.map(([path, bytes]) => `${createHash('sha256').update(bytes).digest('hex')}  ${path}\n`).join(''))]])
}
