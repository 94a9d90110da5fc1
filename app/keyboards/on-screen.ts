import { noteOff, noteOn, type KeyboardSource } from './source'

export interface OnScreenKeys extends KeyboardSource {
  press: (pitch: number, atMs: number) => void
  release: (pitch: number, atMs: number) => void
}

const VELOCITY = 72

/** Keys drawn on the screen, pressed by pointer or touch; the component that draws them calls `press` and `release`. */
export function onScreenKeys(): OnScreenKeys {
  const listeners = new Set<Parameters<KeyboardSource['listen']>[0]>()
  const held = new Set<number>()
  const tell = (bytes: number[], atMs: number) => {
    for (const heard of listeners) heard({ bytes, atMs })
  }
  const release = (pitch: number, atMs: number) => {
    if (held.delete(pitch)) tell(noteOff(pitch), atMs)
  }
  return {
    id: 'on-screen',
    name: 'On-screen keys',
    silent: true,
    listen(heard) {
      listeners.add(heard)
      return () => {
        for (const pitch of [...held]) release(pitch, performance.now())
        listeners.delete(heard)
      }
    },
    press(pitch, atMs) {
      if (held.has(pitch)) return
      held.add(pitch)
      tell(noteOn(pitch, VELOCITY), atMs)
    },
    release,
  }
}
