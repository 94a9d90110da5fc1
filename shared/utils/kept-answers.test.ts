import { expect, test } from 'vitest'
import { BUSY_HEADER, isCachedOffline, cacheKeyOf, serverOf } from './kept-answers'

test('an answer is kept by its address, whatever moment it was asked for', () => {
  const name = (path: string) => cacheKeyOf(new URL(path, 'http://127.0.0.1:3000'))
  expect(name('/api/today?at=2026-11-20T18:00:00Z')).toBe(name('/api/today?at=2026-11-21T07:30:00Z'))
  expect(name('/api/songs?archived=true&at=1')).toBe(name('/api/songs?at=2&archived=true'))
  expect(name('/api/songs?archived=true')).not.toBe(name('/api/songs'))
})

test('what fills pages is kept; files, and whether the server is well, are not', () => {
  for (const path of [
    '/api/today',
    '/api/songs',
    '/api/songs/1/coach',
    '/api/parts/1',
    '/api/_auth/session',
    '/api/settings',
    '/api/passes/1/review',
  ])
    expect(isCachedOffline(path), path).toBe(true)
  for (const path of [
    '/api/archive',
    '/api/songs/1/archive',
    '/api/passes/1/take',
    '/api/logbook/export',
    '/api/today/calendar',
    '/api/health',
    '/api/door',
    '/songs',
    '/_nuxt/a.js',
  ])
    expect(isCachedOffline(path), path).toBe(false)
})

test('a server that says it is busy is not taken for one that is away; whatever else stands before it may say that it is', () => {
  expect(serverOf(new Response('', { status: 200 }))).toBe('there')
  expect(serverOf(new Response('', { status: 404 }))).toBe('there')
  expect(serverOf(new Response('', { status: 500 }))).toBe('there')
  expect(serverOf(new Response('', { status: 503, headers: { [BUSY_HEADER]: '1' } }))).toBe('busy')
  for (const status of [502, 503, 504]) expect(serverOf(new Response('', { status }))).toBe('away')
  expect(serverOf(undefined)).toBe('away')
})
