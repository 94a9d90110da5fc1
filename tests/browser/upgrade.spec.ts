/** A database that the first version made, with practice in it, is brought up to date by this one and loses nothing. */
import { createHash, randomBytes, randomUUID, scryptSync } from 'node:crypto'
import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import pg from 'pg'
import { expect, test } from '@playwright/test'
import { readMusicXml } from '#core/formats/musicxml/read'
import { writeTake } from '#core/formats/midi/write-take'
import { expectedNotes, spanPassage } from '#core/music/passage'
import { quarters } from '#core/music/quarters'
import { demoBytes } from '../material/demo'
// @ts-expect-error: scripts are plain JavaScript
import { startApplication } from '../../scripts/application.mjs'
// @ts-expect-error: scripts are plain JavaScript
import { freePort, startThrowAwayCluster } from '../../scripts/postgres.mjs'

const MIGRATIONS = join(import.meta.dirname, '../../server/database/migrations')
const PASSWORD = 'a password of long ago'

/** As nuxt-auth-utils hashes (scrypt, in the PHC format). */
function hashed(password: string): string {
  const [cost, blockSize, parallelization] = [16_384, 8, 1]
  const salt = randomBytes(16)
  const plain = (bytes: Buffer) => bytes.toString('base64').replace(/=+$/, '')
  return `$scrypt$n=${cost},r=${blockSize},p=${parallelization}$${plain(salt)}$${plain(scryptSync(password, salt, 64, { N: cost, r: blockSize, p: parallelization }))}`
}

test('a database of the first version keeps its player, songs, parts, takes and passes', async ({ playwright }) => {
  const cluster = (await startThrowAwayCluster()) as { url: string; stop: () => void }
  const db = new pg.Client({ connectionString: cluster.url })
  await db.connect()
  let application: { url: string; stop: () => Promise<void> } | undefined
  try {
    // As Drizzle leaves a database to which the first migration alone was applied.
    const first = readFileSync(join(MIGRATIONS, '0000_start.sql'), 'utf8')
    for (const statement of first.split('--> statement-breakpoint')) await db.query(statement)
    const { entries } = JSON.parse(readFileSync(join(MIGRATIONS, 'meta/_journal.json'), 'utf8')) as {
      entries: { when: number }[]
    }
    await db.query('create schema drizzle')
    await db.query(
      'create table drizzle.__drizzle_migrations (id serial primary key, hash text not null, created_at bigint)',
    )
    await db.query('insert into drizzle.__drizzle_migrations (hash, created_at) values ($1, $2)', [
      createHash('sha256').update(first).digest('hex'),
      entries[0]!.when,
    ])

    const { arrangement, musicXml } = readMusicXml(demoBytes('lantern-ferry.musicxml'))
    const [player, song, score, part] = [randomUUID(), randomUUID(), randomUUID(), randomUUID()]
    await db.query('insert into players (id, name, password_hash) values ($1, $2, $3)', [
      player,
      'Early Bird',
      hashed(PASSWORD),
    ])
    await db.query('insert into songs (id, owner_id, title, composer) values ($1, $2, $3, $4)', [
      song,
      player,
      arrangement.title,
      arrangement.composer,
    ])
    await db.query(
      'insert into arrangements (id, owner_id, song_id, version, bars, document, music_xml) values ($1, $2, $3, 1, $4, $5, $6)',
      [score, player, song, arrangement.bars.length, JSON.stringify(arrangement), musicXml],
    )
    await db.query(
      'insert into parts (id, owner_id, arrangement_id, place, name, from_n, from_d, to_n, to_d) values ($1, $2, $3, 0, $4, 0, 1, 16, 1)',
      [part, player, score, 'The beginning'],
    )
    const notes = expectedNotes(arrangement, spanPassage(quarters(0), quarters(16), 'right'), 80).map(
      ({ pitch, onsetMs, durationMs }) => ({ pitch, onsetMs, durationMs, velocity: 64 }),
    )
    const passes = []
    for (let count = 0; count < 3; count++) {
      const [pass, take] = [randomUUID(), randomUUID()]
      passes.push(pass)
      await db.query('insert into takes (id, owner_id, midi) values ($1, $2, $3)', [
        take,
        player,
        Buffer.from(writeTake({ notes, pedals: [] }, 80)),
      ])
      await db.query(
        `insert into passes (id, owner_id, arrangement_id, part_id, part_name, from_n, from_d, to_n, to_d, take_id, hands, mode, bpm, started_at, length_ms, notes, "right", wrong, missed, extra, on_time_share, offset_ms, drift_percent, unsteadiness_ms, clean, score, sentence)
        values ($1, $2, $3, $4, 'The beginning', 0, 1, 16, 1, $5, 'right', 'steady', 80, $6, 12000, 14, 14, 0, 0, 0, 1, 0, 0, 0, true, 100, 'Clean.')`,
        [pass, player, score, part, take, new Date(Date.UTC(2025, 2, 1 + count, 18))],
      )
      await db.query('insert into assessments (pass_id, owner_id, document) values ($1, $2, $3)', [
        pass,
        player,
        JSON.stringify({
          notes: [],
          extras: [],
          findings: [{ kind: 'clean', text: 'Clean.' }],
          summary: { clean: true },
        }),
      ])
    }

    application = (await startApplication({
      port: await freePort(),
      databaseUrl: cluster.url,
      password: 'a password for the tests alone, forty letters',
      environment: { HALF_STEP_DEMO: '', HALF_STEP_OWN: '' },
    })) as { url: string; stop: () => Promise<void> }
    const api = await playwright.request.newContext({
      baseURL: application.url,
      extraHTTPHeaders: { origin: application.url },
    })
    expect((await api.post('/api/session', { data: { name: 'early bird', password: PASSWORD } })).status()).toBe(200)
    expect(await (await api.get('/api/songs')).json()).toMatchObject([
      { id: song, title: 'The Lantern Ferry', parts: 1, passes: 3 },
    ])
    const kept = (await (await api.get('/api/passes')).json()) as {
      id: string
      clean: boolean
      found: { kind: string }[]
    }[]
    expect(kept.map(one => one.id).sort()).toEqual(passes.toSorted())
    // Judged anew from its take by this version's ear; a record of the song is made of it.
    expect(kept.every(one => one.clean && one.found[0]!.kind === 'clean')).toBe(true)
    expect(await (await api.get(`/api/passes/${passes[0]}/review`)).json()).toMatchObject({
      partName: 'The beginning',
      assessment: { summary: { right: notes.length } },
    })
    const { stairs } = (await (await api.get(`/api/songs/${song}?at=2025-03-04T18:00:00Z`)).json()) as {
      stairs: { progress: number }
    }
    expect(stairs.progress).toBeGreaterThan(0)
    // And all of it can be taken away.
    expect((await api.get('/api/archive')).status()).toBe(200)
  } finally {
    await application?.stop()
    await db.end()
    cluster.stop()
  }
})
