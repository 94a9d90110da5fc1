import type { TimedMessage } from '#core/ear/take'

/**
 * The keys of the Stand: of the computer, and those of the piano and its pedals that the player has given to it. A control that was reached with the
 * keyboard keeps the keys it needs itself; one that was clicked does not.
 */
export function useStandKeys(keys: () => Record<string, () => void>, actions: Record<StandAction, () => void>) {
  const settings = useSettingsStore()

  /** Whether a message of the piano is one of its controls; if so, it is obeyed. */
  function takes({ bytes }: TimedMessage): boolean {
    const [status = 0, first = 0, second = 0] = [bytes[0], bytes[1], bytes[2]]
    const kind = status & 0xF0
    const trigger = kind === 0x90 || kind === 0x80 ? { key: first } : kind === 0xB0 && (first === 64 || first === 66 || first === 67) ? { pedal: first as 64 } : undefined
    const action = STAND_ACTIONS.find(one => isSameTrigger(settings.controls[one], trigger))
    if (!action) return false
    if (kind === 0x90 ? second > 0 : kind === 0xB0 && second >= 64) actions[action]()
    return true
  }

  function onKey(event: KeyboardEvent) {
    if (event.ctrlKey || event.metaKey || event.altKey || event.defaultPrevented) return
    const known = keys()
    if (!Object.hasOwn(known, event.key)) return
    const target = event.target as HTMLElement | null
    if (target?.closest('input, select, textarea, [role="dialog"]')) return
    if ((event.key === ' ' || event.key === 'Enter') && target?.closest('button, a')?.matches(':focus-visible')) return
    event.preventDefault()
    if (!event.repeat || event.key.startsWith('Arrow')) known[event.key]!()
  }
  useEventListener('keydown', onKey)

  return { takes }
}
