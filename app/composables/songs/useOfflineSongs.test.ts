import { effectScope, nextTick, ref } from 'vue'
import { expect, test } from 'vitest'
import { useOfflineSongs } from './useOfflineSongs'

const SONGS: Record<string, { arrangementId: string; parts: { id: string }[] }> = {
  a: { arrangementId: 'a1', parts: [{ id: 'a-one' }, { id: 'a-two' }] },
  b: { arrangementId: 'b1', parts: [{ id: 'b-one' }] },
}

/** A browser that remembers what was asked for, and a server that answers. */
function browser() {
  const kept = new Set<string>()
  const asked: string[] = []
  const marks = new Map<string, string>()
  const options = {
    request: async (url: string) => {
      asked.push(url)
      kept.add(url)
      return SONGS[url.replace('/api/songs/', '')] ?? {}
    },
    hasWorker: () => true,
    rest: async () => {},
    isKept: async (path: string) => kept.has(path),
    memory: {
      getItem: (key: string) => marks.get(key) ?? null,
      setItem: (key: string, value: string) => void marks.set(key, value),
    },
  }
  return { asked, kept, options, parts: () => asked.filter(url => url.startsWith('/api/parts/')) }
}
const settled = async () => {
  for (let turn = 0; turn < 60; turn++) await nextTick()
}

test('the songs in work are kept with their stairs, the coach and every part, once for each state of their notes', async () => {
  const { asked, options, parts } = browser()
  const scope = effectScope()
  const ids = ref<string[]>()
  scope.run(() => useOfflineSongs(() => ids.value, options))
  await settled()
  expect(asked).toEqual([])
  ids.value = ['a', 'b']
  await settled()
  expect(asked).toEqual(
    expect.arrayContaining([
      '/api/_auth/session',
      '/api/settings',
      '/api/songs/a',
      '/api/songs/a/coach',
      '/api/songs/b/coach',
    ]),
  )
  expect(parts()).toEqual(['/api/parts/a-one', '/api/parts/a-two', '/api/parts/b-one'])
  ids.value = ['b', 'a']
  await settled()
  expect(parts()).toHaveLength(3)
  SONGS.a!.arrangementId = 'a2'
  ids.value = ['a']
  await settled()
  expect(parts().slice(3)).toEqual(['/api/parts/a-one', '/api/parts/a-two'])
  scope.stop()
})

test('without a worker nothing is fetched to be kept, and what cannot be fetched disturbs nobody', async () => {
  const none = browser()
  const scope = effectScope()
  scope.run(() => useOfflineSongs(() => ['a'], { ...none.options, hasWorker: () => false }))
  scope.run(() =>
    useOfflineSongs(() => ['a'], { ...none.options, request: async () => await Promise.reject(new Error('away')) }),
  )
  await settled()
  expect(none.asked).toEqual([])
  scope.stop()
})
