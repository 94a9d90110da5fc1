/** Keys that belong together, by their names (`KeyboardEvent.key`, with Alt and Shift before it), and what they do. */
interface KeyGroup {
  readonly name: string
  readonly keys: readonly (readonly [names: readonly string[], does: string])[]
}

/** The keys of the Stand in words, grouped as they are explained. */
export const STAND_KEYS: readonly KeyGroup[] = [
  {
    name: 'Play',
    keys: [
      [[' '], 'start and stop'],
      [['Enter'], 'again from the beginning'],
      [['Escape'], 'stop'],
      [['F8'], 'next, where the coach points'],
      [['F9'], 'let the coach lead'],
      [['F7'], 'own time, click or free'],
      [['F2'], 'metronome'],
      [['Home'], 'hear it'],
      [['End'], 'hear yourself'],
      [['Shift+F2'], 'sound and what plays along'],
    ],
  },
  {
    name: 'Tempo',
    keys: [
      [['ArrowUp', 'ArrowDown'], 'by four'],
      [['+', '-'], 'by one'],
      [['PageUp', 'PageDown'], 'double and half'],
      [['F3'], 'tap it'],
    ],
  },
  {
    name: 'Hands and bars',
    keys: [
      [['ArrowLeft', 'ArrowRight'], 'left, together, right'],
      [['[', ']'], 'begin and end at the bar that is played'],
      [['Shift+ArrowLeft', 'Shift+ArrowRight'], 'move the bars'],
      [['Shift+ArrowUp', 'Shift+ArrowDown'], 'one bar more, one less'],
      [['Alt+Shift+ArrowLeft', 'Alt+Shift+ArrowRight'], 'the end by a beat'],
      [['Backspace'], 'back to what was played before'],
      [['Shift+F8'], 'a drill from these bars'],
      [['F1'], 'how often'],
    ],
  },
  {
    name: 'Look',
    keys: [
      [['F4'], 'keys on the screen'],
      [['F6'], 'review the last pass'],
      [['F10'], 'the whole song on the page'],
      [['f'], 'full screen'],
      [['?'], 'these keys'],
    ],
  },
]

/** What is printed on a key. */
const CAPS: Readonly<Record<string, string>> = {
  ' ': 'Space',
  Escape: 'Esc',
  ArrowUp: '↑',
  ArrowDown: '↓',
  ArrowLeft: '←',
  ArrowRight: '→',
  '-': '−',
  PageUp: 'Page ↑',
  PageDown: 'Page ↓',
  f: 'F',
}

/**
 * The keys to be pressed for one of `names`, as they are printed: what is held for all of them once, then each
 * ("Shift", "←", "→").
 */
export function keyCaps(names: readonly string[]): string[] {
  const each = names.map(name => (name.length > 1 ? name.split('+') : [name]))
  return [...each[0]!.slice(0, -1), ...each.map(keys => keys.at(-1)!)].map(key => CAPS[key] ?? key)
}
