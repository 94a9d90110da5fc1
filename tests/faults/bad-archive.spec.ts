/**
 * Archives that are wrong in every way are refused with a reason, or what they bring can be lived with: no page fails
 * over it. `HALF_STEP_FAULTS` says how many are tried.
 */
import { randomUUID } from 'node:crypto'
import type { APIRequestContext } from '@playwright/test'
import { seededChance } from '#core/players/randomness'
import { bring, onceThereIsRoom, packed, summed, SUMS, unpacked, written } from '../material/archives'
import { mutated, mutatedFile } from '../material/mutations'
import { expect, test } from '../material/player'

const COUNT = Number(process.env.HALF_STEP_FAULTS ?? 60)
const SEED = 20
/** What is said when it is the server that failed. */
const FAULT = /could not be restored just now/

test.setTimeout(3_600_000)

async function archiveOf(request: APIRequestContext): Promise<Buffer> {
  const [song] = (await (await request.get('/api/songs')).json()) as { id: string }[]
  const { parts } = (await (await request.get(`/api/songs/${song!.id}/work`)).json()) as { parts: { id: string }[] }
  for (let count = 0; count < 6; count++) {
    const sent = {
      id: randomUUID(),
      partId: parts[count % 2]!.id,
      hands: 'right',
      bpm: 60,
      startedAt: new Date(Date.UTC(2026, 10, 1 + count, 18)).toISOString(),
      lengthMs: 16_000,
      offsetMs: 0,
      take: {
        notes: [
          { onsetMs: 3 + count, durationMs: 800, pitch: 62, velocity: 70 },
          { onsetMs: 900, durationMs: 300, pitch: 64, velocity: 61 },
        ],
        pedals: [],
      },
    }
    expect((await request.post('/api/passes', { data: sent })).status()).toBe(201)
  }
  await request.patch('/api/days/2026-11-03', { data: { note: 'Rain.', minutes: 20 } })
  return await written(request)
}

/** What a player looks at. Gives what failed. */
async function pagesThatFail(api: APIRequestContext): Promise<string[]> {
  const faults: string[] = []
  const look = async (path: string) => {
    const answer = await onceThereIsRoom(async () => await api.get(path))
    if (answer.status() >= 500) faults.push(`${answer.status()} ${path}: ${(await answer.text()).slice(0, 300)}`)
    return answer.ok() && (answer.headers()['content-type'] ?? '').includes('json')
      ? ((await answer.json()) as unknown)
      : undefined
  }
  const songs = (await look('/api/songs')) as { id: string }[] | undefined
  for (const path of [
    '/api/today',
    '/api/logbook',
    '/api/days',
    '/api/drills',
    '/api/deleted-songs',
    '/api/archive',
    '/',
  ])
    await look(path)
  for (const { id } of (songs ?? []).slice(0, 2)) {
    const work = (await look(`/api/songs/${id}/work`)) as { parts: { id: string }[] } | undefined
    for (const path of [
      `/api/songs/${id}`,
      `/api/songs/${id}/coach`,
      ...(work?.parts[0] ? [`/api/parts/${work.parts[0].id}`] : []),
    ])
      await look(path)
  }
  const passes = (await look('/api/passes?limit=20')) as { id: string }[] | undefined
  for (const { id } of (passes ?? []).slice(0, 2)) await look(`/api/passes/${id}/review`)
  return faults
}

test('archives that are wrong in every way are refused, or can be lived with', async ({
  playwright,
  baseURL,
  request,
}) => {
  const chance = seededChance(SEED)
  const file = await archiveOf(request)
  const documents = await unpacked(file)
  const paths = [...documents.keys()].filter(path => path.endsWith('.json'))
  let taken = 0
  let api = await somebody()
  async function somebody() {
    const fresh = await playwright.request.newContext({ baseURL })
    expect(
      (
        await fresh.post('/api/accounts', {
          data: { name: `Mutant ${randomUUID().slice(0, 13)}`, password: 'a long enough password' },
        })
      ).status(),
    ).toBe(201)
    return fresh
  }
  for (let count = 0; count < COUNT; count++) {
    const [what, bad] =
      count % 6 === 5 ? (['bytes', Buffer.from(mutatedFile(new Uint8Array(file), chance))] as const) : await changed()
    const { restored, refused } = await bring(api, bad)
    expect(refused ?? '', `${what}, number ${count}`).not.toMatch(FAULT)
    if (!restored) continue
    taken++
    expect(await pagesThatFail(api), `${what}, number ${count}`).toEqual([])
    api = await somebody()
  }
  console.log(`mutated archives: ${COUNT}, of which ${taken} could be restored`)

  /** One document changed, with sums that are right. */
  async function changed(): Promise<readonly [string, Buffer]> {
    const path = chance.pick(paths)
    const value = JSON.stringify(mutated(JSON.parse(documents.get(path)!.toString()), chance))
    return [
      `${path}`,
      await packed(
        summed(
          new Map(
            [...documents]
              .filter(([name]) => name !== SUMS)
              .map(([name, bytes]) => [name, name === path ? Buffer.from(value) : bytes]),
          ),
        ),
      ),
    ] as const
  }
})
