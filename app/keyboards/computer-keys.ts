import { noteOff, noteOn, type KeyboardSource } from './source'

/** Two rows of keys as two octaves, by their place on the keyboard, whatever is printed on them. */
const LOWER = [
  'KeyZ',
  'KeyS',
  'KeyX',
  'KeyD',
  'KeyC',
  'KeyV',
  'KeyG',
  'KeyB',
  'KeyH',
  'KeyN',
  'KeyJ',
  'KeyM',
  'Comma',
  'KeyL',
  'Period',
]
const UPPER = [
  'KeyQ',
  'Digit2',
  'KeyW',
  'Digit3',
  'KeyE',
  'KeyR',
  'Digit5',
  'KeyT',
  'Digit6',
  'KeyY',
  'Digit7',
  'KeyU',
  'KeyI',
  'Digit9',
  'KeyO',
  'Digit0',
  'KeyP',
]
const VELOCITY = 72

/** The computer's own keyboard. `lowest` is the pitch of the lower row's first key (48: the C below middle C). */
export function computerKeys(lowest = 48): KeyboardSource {
  const pitches = new Map([
    ...LOWER.map((code, step): [string, number] => [code, lowest + step]),
    ...UPPER.map((code, step): [string, number] => [code, lowest + 12 + step]),
  ])
  return {
    id: 'computer-keys',
    name: 'Computer keyboard',
    silent: true,
    listen(heard) {
      const held = new Map<string, number>()
      const down = (event: KeyboardEvent) => {
        const pitch = pitches.get(event.code)
        const inField =
          event.target instanceof HTMLElement && event.target.closest('input, textarea, select, [contenteditable]')
        if (pitch === undefined || event.repeat || event.ctrlKey || event.metaKey || event.altKey || inField) return
        event.preventDefault()
        held.set(event.code, pitch)
        heard({ bytes: noteOn(pitch, VELOCITY), atMs: event.timeStamp })
      }
      const release = (code: string, atMs: number) => {
        const pitch = held.get(code)
        if (pitch === undefined) return
        held.delete(code)
        heard({ bytes: noteOff(pitch), atMs })
      }
      const up = (event: KeyboardEvent) => release(event.code, event.timeStamp)
      // A key let go while another window has the focus is never heard of.
      const away = () => {
        for (const code of [...held.keys()]) release(code, performance.now())
      }
      window.addEventListener('keydown', down)
      window.addEventListener('keyup', up)
      window.addEventListener('blur', away)
      return () => {
        window.removeEventListener('keydown', down)
        window.removeEventListener('keyup', up)
        window.removeEventListener('blur', away)
        away()
      }
    },
  }
}
