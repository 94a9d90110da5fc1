import { effectScope } from 'vue'
import { describe, expect, it } from 'vitest'
import { useOneListener, type Channel } from './useOneListener'

/** Pages of one browser: each hears what the others post. */
function browser() {
  const channels: Channel[] = []
  const scope = effectScope()
  return (name: string) => {
    const channel: Channel = {
      postMessage: data => {
        for (const other of channels) if (other !== channel) other.onmessage?.({ data })
      },
      onmessage: null,
      close: () => {},
    }
    channels.push(channel)
    let focused = () => {}
    const state = { listens: false, other: '' }
    const told = {
      taken: (page: string) => Object.assign(state, { listens: false, other: page }),
      mine: () => Object.assign(state, { listens: true, other: '' }),
    }
    const { claim } = scope.run(() =>
      useOneListener(() => name, told, {
        channel,
        listen: (_, act) => {
          focused = act
        },
        id: name,
      }),
    )!
    return { state, claim, focus: () => focused() }
  }
}

describe('pages that would all listen to one keyboard', () => {
  it('leave it to the one that was looked at last, and say where that is', () => {
    const page = browser()
    const [first, second] = [page('Part 1'), page('Part 2')]
    first.claim()
    second.claim()
    expect([first.state, second.state]).toEqual([
      { listens: false, other: 'Part 2' },
      { listens: true, other: '' },
    ])
    first.focus()
    expect([first.state, second.state]).toEqual([
      { listens: true, other: '' },
      { listens: false, other: 'Part 1' },
    ])
  })
})
