import type { StandPart } from './practised'
import { effectScope, nextTick, ref } from 'vue'
import { describe, expect, it } from 'vitest'
import { demoScore } from '../../../tests/material/demo'
import { quarters } from '#core/music/quarters'
import { preparedPart, usePreparedPart, type LikelyNext } from './usePreparedPart'

const { arrangement } = demoScore('lantern-ferry.musicxml')
const PART: StandPart = {
  id: 'part',
  name: 'Verse',
  stretch: { from: quarters(1), to: quarters(17) },
  song: { id: 'song', title: 'Song' },
  arrangementId: 'arrangement',
  arrangement,
  musicXml: '<score-partwise/>',
  roleParts: ['P2'],
}

/** A page at rest that leads to the Stand, with what it has asked for. */
function page(first: LikelyNext | undefined, fetchPart = (id: string) => Promise.resolve({ ...PART, id })) {
  const [next, measured] = [ref(first), [] as unknown[]]
  const scope = effectScope()
  const environment = {
    settings: { load: () => Promise.resolve(), stand: { size: 'medium', otherStaves: 'small' } },
    engraver: {
      sizes: (_: unknown, request: unknown) => {
        measured.push(request)
        return Promise.resolve([])
      },
    },
    fetchPart,
    rests: (begin: () => void) => begin(),
    preload: () => Promise.resolve(),
  }
  scope.run(() => usePreparedPart(() => next.value, environment as unknown as Parameters<typeof usePreparedPart>[1]))
  return { next, measured, leave: () => scope.stop() }
}
const settled = async () => {
  for (let turn = 0; turn < 8; turn++) await nextTick()
}

describe('what is likely to be played next', () => {
  it('is fetched and measured while the page rests, and let go of with it', async () => {
    const { measured, leave } = page({ partId: 'one' })
    await settled()
    expect(preparedPart('one')).toMatchObject({ id: 'one', name: 'Verse' })
    expect(measured).toEqual([{ firstBar: 1, lastBar: 4, drawn: { P2: 'small' } }])
    leave()
    expect(preparedPart('one')).toBeUndefined()
  })

  it('is measured as far as is played, and again when something else comes next', async () => {
    const { next, measured, leave } = page({ partId: 'one', stretch: { from: quarters(5), to: quarters(33) } })
    await settled()
    next.value = { partId: 'two', stretch: { from: quarters(5), to: quarters(9) } }
    await settled()
    expect(measured).toMatchObject([
      { firstBar: 2, lastBar: 8 },
      { firstBar: 1, lastBar: 4 },
    ])
    expect(preparedPart('two')?.id).toBe('two')
    leave()
  })

  it('is left to the Stand where it cannot be fetched, or comes after the page was left', async () => {
    const lost = page({ partId: 'lost' }, () => Promise.reject(new Error('offline')))
    await settled()
    lost.leave()
    const left = page({ partId: 'late' })
    left.leave()
    await settled()
    expect([preparedPart('lost'), preparedPart('late'), left.measured]).toEqual([undefined, undefined, []])
  })
})
