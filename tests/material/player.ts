import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { test as base, expect } from '@playwright/test'

const SONGS = ['lantern-ferry.musicxml', 'snow-on-the-towpath.musicxml', 'side-street-shuffle.musicxml']
const DEMO = join(import.meta.dirname, '../../demo')

/**
 * A test whose pages and requests are a new player's, who has three songs and has not begun with any: tests do not see
 * each other's practice.
 */
export const test = base.extend({
  storageState: async ({ playwright, baseURL }, use, testInfo) => {
    const request = await playwright.request.newContext({ baseURL, extraHTTPHeaders: { origin: baseURL! } })
    const name = `${testInfo.testId.slice(-12)} ${Date.now()} ${testInfo.retry}`
    const made = await request.post('/api/accounts', { data: { name, password: 'a password of a test' } })
    expect(made.status(), await made.text()).toBe(201)
    for (const file of SONGS) {
      const answer = await request.post(`/api/songs?name=${file}`, {
        data: readFileSync(join(DEMO, file)),
        headers: { 'content-type': 'application/octet-stream' },
      })
      expect(answer.status(), await answer.text()).toBe(201)
    }
    await use(await request.storageState())
    await request.dispose()
  },
})

export { expect }
