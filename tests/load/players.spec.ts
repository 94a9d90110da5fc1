/**
 * Two hundred players at once: how long a pass and a page take, alone and while others upload the largest files that
 * are allowed.
 */
import { randomUUID } from 'node:crypto'
import { setTimeout as delay } from 'node:timers/promises'
import { expect, test } from '@playwright/test'
import { seededChance } from '#core/players/randomness'
import { demoBytes } from '../material/demo'
import { denseSong } from '../material/dense-song'
import { percentile } from '../material/patience'

const PLAYERS = Number(process.env.HALF_STEP_PLAYERS ?? 200)
const EVERY_MS = 3_000
const SECONDS = 45
const UPLOADERS = 4
/** Bars of the score that is uploaded beside it all: about 40,000 notes. */
const LARGE_BARS = 1_000

test.setTimeout(1_800_000)

interface Player {
  cookie: string
  songId: string
  partIds: string[]
  passes: string[]
  minute: number
}

test('two hundred players post passes and open pages', async ({ baseURL }) => {
  const url = baseURL!
  const ask = async (cookie: string, path: string, method = 'GET', body?: unknown) =>
    await fetch(url + path, {
      method,
      headers: {
        cookie,
        origin: url,
        ...(body === undefined
          ? {}
          : { 'content-type': body instanceof Buffer ? 'application/octet-stream' : 'application/json' }),
      },
      ...(body === undefined ? {} : { body: body instanceof Buffer ? (body as BodyInit) : JSON.stringify(body) }),
    })
  const newPlayer = async (): Promise<Player> => {
    const made = await ask('', '/api/accounts', 'POST', {
      name: `Load ${randomUUID()}`,
      password: 'a password of nobody',
    })
    expect(made.status).toBe(201)
    const cookie = made.headers
      .getSetCookie()
      .map(one => one.split(';')[0])
      .join('; ')
    const { id: songId } = (await (
      await ask(cookie, '/api/songs?name=a.musicxml', 'POST', Buffer.from(demoBytes('lantern-ferry.musicxml')))
    ).json()) as { id: string }
    const { parts } = (await (await ask(cookie, `/api/songs/${songId}/work`)).json()) as { parts: { id: string }[] }
    return { cookie, songId, partIds: parts.map(part => part.id), passes: [], minute: 0 }
  }
  const players: Player[] = []
  for (let count = 0; count < PLAYERS; count += 4)
    players.push(...(await Promise.all(Array.from({ length: Math.min(4, PLAYERS - count) }, newPlayer))))
  const chance = seededChance(3)
  const pages = [() => '/api/today', () => '/api/songs', ({ songId }: Player) => `/api/songs/${songId}`]

  async function played(what: string, seconds: number) {
    const took: { pass: number[]; page: number[] } = { pass: [], page: [] }
    const wrong: string[] = []
    const end = performance.now() + 1000 * seconds
    const timed = async (kind: 'pass' | 'page', send: () => Promise<Response>, wanted: number) => {
      const began = performance.now()
      const answer = await send().catch((error: unknown) => String(error))
      if (typeof answer !== 'string') await answer.arrayBuffer()
      took[kind].push(performance.now() - began)
      if (typeof answer === 'string' || answer.status !== wanted)
        wrong.push(`${kind}: ${typeof answer === 'string' ? answer : answer.status}`)
      return typeof answer !== 'string' && answer.status === wanted
    }
    await Promise.all(
      players.map(async player => {
        await delay(EVERY_MS * chance.uniform())
        for (let count = 0; performance.now() < end; count++) {
          const began = performance.now()
          const id = randomUUID()
          const pass = {
            id,
            partId: player.partIds[player.minute % player.partIds.length],
            hands: 'right',
            bpm: 80,
            startedAt: new Date(1_795_000_000_000 + 60_000 * player.minute++).toISOString(),
            lengthMs: 12_000,
            offsetMs: 0,
            take: {
              notes: Array.from({ length: 30 }, (_, index) => ({
                onsetMs: 300 * index,
                durationMs: 250,
                pitch: 60 + (index % 7),
                velocity: 60,
              })),
              pedals: [],
            },
          }
          if (await timed('pass', async () => await ask(player.cookie, '/api/passes', 'POST', pass), 201))
            player.passes.push(id)
          if (count % 3 === 2)
            await timed('page', async () => await ask(player.cookie, chance.pick(pages)(player)), 200)
          await delay(Math.max(0, EVERY_MS - (performance.now() - began)))
        }
      }),
    )
    const figures = Object.entries(took).map(([kind, all]) => {
      all.sort((a, b) => a - b)
      return `${kind}: median ${Math.round(percentile(all, 0.5))} ms, p99 ${Math.round(percentile(all, 0.99))} ms of ${all.length}`
    })
    console.log(
      `${what}: ${figures.join('; ')}; ${wrong.length} not answered as wanted ${[...new Set(wrong)].slice(0, 3).join(', ')}`,
    )
  }

  await played('warming up', 10)
  await played(`${PLAYERS} players`, SECONDS)
  let isOver = false
  let uploaded = 0
  const large = Buffer.from(denseSong(LARGE_BARS))
  const uploads = Promise.all(
    Array.from({ length: UPLOADERS }, async () => {
      const uploader = await newPlayer()
      while (!isOver)
        if ((await ask(uploader.cookie, '/api/songs?name=large.musicxml', 'POST', large)).status === 201) uploaded++
    }),
  )
  await played(
    `${PLAYERS} players, and ${UPLOADERS} who upload ${(large.length / 1e6).toFixed(1)} MB again and again`,
    SECONDS,
  )
  isOver = true
  await uploads
  console.log(`${uploaded} large files were taken in meanwhile`)
  for (const player of players.slice(0, 20)) {
    const kept = (await (await ask(player.cookie, '/api/passes?limit=500')).json()) as { id: string }[]
    expect(kept.map(pass => pass.id).sort()).toEqual([...player.passes].sort())
  }
})
