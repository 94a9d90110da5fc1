/** Archives taken apart and put together again, for the tests of them. */
import { createHash } from 'node:crypto'
import { Readable } from 'node:stream'
import { setTimeout as delay } from 'node:timers/promises'
import type { APIRequestContext, APIResponse } from '@playwright/test'
import { archiveFile, documentsOf } from '../../shared/archive-file'
import { BUSY_HEADER } from '../../shared/utils/kept-answers'

/** What restoring came to: the last line of the answer. */
export interface RestoringEnd {
  restored?: { songs: number; patterns: number; passes: number; days: number; settings: boolean }
  refused?: string
}

/**
 * What is answered once the server has room: it reads and writes so many archives at a time, and other tests have
 * theirs.
 */
export async function onceThereIsRoom(ask: () => Promise<APIResponse>): Promise<APIResponse> {
  for (;;) {
    const answer = await ask()
    if (!(BUSY_HEADER in answer.headers())) return answer
    await delay(500)
  }
}

/** Brings an archive back. */
export async function bring(api: APIRequestContext, file: Buffer): Promise<RestoringEnd> {
  const answer = await onceThereIsRoom(
    async () => await api.post('/api/archive', { data: file, headers: { 'content-type': 'application/gzip' } }),
  )
  if (answer.status() !== 200) return { refused: `${answer.status()} ${await answer.text()}` }
  return JSON.parse((await answer.text()).trim().split('\n').at(-1)!) as RestoringEnd
}

/** The archive of a player. */
export async function written(api: APIRequestContext): Promise<Buffer> {
  const answer = await onceThereIsRoom(async () => await api.get('/api/archive'))
  if (answer.status() !== 200) throw new Error(`${answer.status()} ${await answer.text()}`)
  return await answer.body()
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
  for await (const chunk of archiveFile(
    (async function* () {
      for (const [path, bytes] of documents) yield { path, bytes }
    })(),
    new Date(),
  ))
    chunks.push(chunk as Buffer)
  return Buffer.concat(chunks)
}

/** The documents with sums that are theirs. */
export function summed(documents: Documents): Documents {
  const all = [...documents].filter(([path]) => path !== SUMS)
  return new Map([
    ...all,
    [
      SUMS,
      Buffer.from(
        all.map(([path, bytes]) => `${createHash('sha256').update(bytes).digest('hex')}  ${path}\n`).join(''),
      ),
    ],
  ])
}
