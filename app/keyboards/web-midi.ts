import { keyEvent } from '#core/ear/take'
import { noteOff, type KeyboardSource } from './source'

/** Set once a keyboard was heard here: then permission need not wait until the player has come to play. */
const SEEN = 'half-step:keyboard-seen'

/** Where the browser keeps nothing, the player is asked once more. */
function rememberKeyboards(): void {
  try {
    localStorage.setItem(SEEN, '1')
  } catch {
    /* as said above */
  }
}

/** Whether keyboards may be listened to without the browser asking the player. */
export async function mayHearKeyboards(): Promise<boolean> {
  if (!navigator.requestMIDIAccess) return false
  if (localStorage.getItem(SEEN)) return true
  const asked = await navigator.permissions?.query({ name: 'midi' }).catch(() => undefined)
  return asked?.state === 'granted'
}

/**
 * The instruments on a cable that could play what the program plays. None where the browser has no MIDI, or may not use
 * it.
 */
export async function midiOutputs(): Promise<MIDIOutput[]> {
  if (!(await mayHearKeyboards())) return []
  const access = await navigator.requestMIDIAccess({ sysex: false }).catch(() => undefined)
  return access ? [...access.outputs.values()].filter(output => output.state !== 'disconnected') : []
}

export type MidiAccess = 'unsupported' | 'asking' | 'refused' | 'ready'

/**
 * Follows the MIDI inputs of this machine through the Web MIDI API: those there now, and those plugged in or out later.
 * Throws nothing; `changed` tells the state and the inputs each time they change.
 */
export async function followMidiInputs(
  changed: (access: MidiAccess, inputs: KeyboardSource[]) => void,
): Promise<() => void> {
  if (!navigator.requestMIDIAccess) {
    changed('unsupported', [])
    return () => {}
  }
  changed('asking', [])
  let access: MIDIAccess
  try {
    access = await navigator.requestMIDIAccess({ sysex: false })
  } catch {
    changed('refused', [])
    return () => {}
  }
  const known = new Map<string, KeyboardSource>()
  const tell = () => {
    const connected = [...access.inputs.values()].filter(input => input.state !== 'disconnected')
    for (const id of known.keys()) if (!connected.some(input => input.id === id)) known.delete(id)
    for (const input of connected) if (!known.has(input.id)) known.set(input.id, midiInput(input))
    if (known.size > 0) rememberKeyboards()
    changed('ready', [...known.values()])
  }
  access.addEventListener('statechange', tell)
  tell()
  return () => access.removeEventListener('statechange', tell)
}

function midiInput(input: MIDIInput): KeyboardSource {
  return {
    id: input.id,
    name: input.name || 'MIDI keyboard',
    silent: false,
    listen(heard) {
      const held = new Set<number>()
      const onMessage = (event: Event) => {
        const { data, timeStamp } = event as MIDIMessageEvent
        if (!data) return
        const message = { bytes: data, atMs: timeStamp || performance.now() }
        const key = keyEvent(message)
        if (key?.kind === 'down') held.add(key.pitch)
        if (key?.kind === 'up') held.delete(key.pitch)
        heard(message)
      }
      input.addEventListener('midimessage', onMessage)
      return () => {
        input.removeEventListener('midimessage', onMessage)
        for (const pitch of held) heard({ bytes: noteOff(pitch), atMs: performance.now() })
      }
    },
  }
}
