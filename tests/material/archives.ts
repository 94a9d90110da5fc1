/** Archives taken apart and put together again, for the tests of them. */
import { createHash } from 'node:crypto'
import { Readable } from 'node:stream'
import { setTimeout as delay } from 'node:timers/promises'
import type { APIRequestContext } from '@playwright/test'
import { archiveFile, documentsOf } from '../../shared/archive-file'

/** What restoring came to: the last line of the answer. */
export interface RestoringEnd { restored?: { songs: number, patterns: number, passes: number, days: number, settings: boolean }, refused?: string }

/** Brings an archive back, waiting while the server has no room: it reads so many at a time, and other tests send theirs. */
export async function bring(api: APIRequestContext, file: Buffer): Promise<RestoringEnd> {
  for (;;) {
    const answer = await api.post('/api/archive', { data: file, headers: { 'content-type': 'application/gzip' } })
    if (answer.status() === 503) {
      await delay(500)
      continue
    }
    if (answer.status() !== 200) return { refused: `${answer.status()} ${await answer.text()}` }
    return JSON.parse((await answer.text()).trim().split('\n').at(-1)!) as RestoringEnd
  }
}

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
