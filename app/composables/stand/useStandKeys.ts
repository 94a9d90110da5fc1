import { useEventListener } from '@vueuse/core'
import type { TimedMessage } from '#core/ear/take'
import { isSameTrigger, STAND_ACTIONS, type Controls, type StandAction } from '#shared/utils/controls'

/** Fields that are typed into, and what lies over the Stand, keep all their keys. */
const KEEPS_ALL =
  'input:not([type="radio"], [type="checkbox"], [type="range"]), select, textarea, [contenteditable], [role="dialog"], [role="listbox"], [role="menu"]'
/** A control that was reached with Tab keeps the keys that work it. */
const CONTROL = 'button, a, input, summary, [role="slider"], [role="switch"], [role="radio"], [tabindex]'
const KEEPS = new Set([
  ' ',
  'Enter',
  'ArrowUp',
  'ArrowDown',
  'ArrowLeft',
  'ArrowRight',
  'Home',
  'End',
  'PageUp',
  'PageDown',
])
/** Keys that go on acting while they are held. */
const REPEATS = /^(?:Shift\+)?Arrow|^[+-]$/

/**
 * The name of a key with its Shift where it is no character: "Shift+ArrowLeft"; "[" and "]" also by their place, where
 * another keyboard has letters there.
 */
function nameOf(event: KeyboardEvent): string {
  if (event.code === 'BracketLeft' && event.key.length === 1) return '['
  if (event.code === 'BracketRight' && event.key.length === 1) return ']'
  if (event.key.length === 1) return event.key.toLowerCase()
  return `${event.altKey ? 'Alt+' : ''}${event.shiftKey ? 'Shift+' : ''}${event.key}`
}

/**
 * The keys of the Stand: of the computer, and those of the piano and its pedals that the player has given to it
 * (`controls`). While the Stand is open they do what they say, whatever was clicked before; a control that was reached
 * with Tab keeps the keys that work it.
 */
export function useStandKeys(
  keys: () => Readonly<Record<string, () => void>>,
  actions: Readonly<Record<StandAction, () => void>>,
  controls: () => Controls,
  listen: typeof useEventListener = useEventListener,
) {
  /** Whether a message of the piano is one of its controls; if so, it is obeyed. */
  function takes({ bytes }: TimedMessage): boolean {
    const [status = 0, first = 0, second = 0] = [bytes[0], bytes[1], bytes[2]]
    const kind = status & 0xf0
    const trigger =
      kind === 0x90 || kind === 0x80
        ? { key: first }
        : kind === 0xb0 && (first === 64 || first === 66 || first === 67)
          ? { pedal: first as 64 }
          : undefined
    const action = STAND_ACTIONS.find(one => isSameTrigger(controls()[one], trigger))
    if (!action) return false
    if (kind === 0x90 ? second > 0 : kind === 0xb0 && second >= 64) actions[action]()
    return true
  }

  let isTabbing = false
  let reached: EventTarget | null = null

  /** What a key of the computer does here; undefined where it is not the Stand's. */
  function meant(event: KeyboardEvent): (() => void) | undefined {
    const isTyped = event.getModifierState?.('AltGraph')
    if (
      event.defaultPrevented ||
      (!isTyped && (event.ctrlKey || event.metaKey || (event.altKey && event.key.length === 1)))
    )
      return undefined
    const known = keys()
    const name = nameOf(event)
    if (!Object.hasOwn(known, name)) return undefined
    const target = event.target as HTMLElement | null
    if (target?.closest?.(KEEPS_ALL)) return undefined
    const control = target?.closest?.(CONTROL)
    if (control && control === reached && KEEPS.has(event.key) && !event.shiftKey) return undefined
    return known[name]
  }

  listen('keydown', (event: KeyboardEvent) => {
    isTabbing = event.key === 'Tab'
    const act = meant(event)
    if (!act) return
    event.preventDefault()
    if (!event.repeat || REPEATS.test(nameOf(event))) act()
  })
  // A button that was clicked would be pressed again when Space comes up.
  listen('keyup', (event: KeyboardEvent) => {
    if (event.key === ' ' && meant(event)) event.preventDefault()
  })
  listen('focusin', (event: FocusEvent) => {
    if (isTabbing) reached = event.target
  })
  listen('pointerdown', () => {
    isTabbing = false
    reached = null
  })

  return { takes }
}
