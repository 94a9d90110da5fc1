import { expect, test } from 'vitest'
import { keyCaps, STAND_KEYS } from './stand-keys'

test('keys are shown as they are printed, and what is held for several of them once', () => {
  expect(
    [
      [' '],
      ['ArrowUp', 'ArrowDown'],
      ['+', '-'],
      ['Shift+ArrowLeft', 'Shift+ArrowRight'],
      ['Alt+Shift+ArrowLeft', 'Alt+Shift+ArrowRight'],
      ['Shift+F2'],
      ['f'],
      ['[', ']'],
    ].map(keyCaps),
  ).toEqual([
    ['Space'],
    ['↑', '↓'],
    ['+', '−'],
    ['Shift', '←', '→'],
    ['Alt', 'Shift', '←', '→'],
    ['Shift', 'F2'],
    ['F'],
    ['[', ']'],
  ])
})

test('no key is explained twice', () => {
  const all = STAND_KEYS.flatMap(group => group.keys.flatMap(([names]) => names))
  expect(new Set(all).size).toBe(all.length)
})
