import { expect, test } from 'vitest'
import { creditsOf } from './credits'
import { parseXml } from './xml'

const credit = (words: string, attributes: string, inside = '', page = '1') =>
  `<credit page="${page}">${inside}<credit-words ${attributes}>${words}</credit-words></credit>`
const credits = (...all: string[]) => creditsOf(parseXml(`<score-partwise>${all.join('')}</score-partwise>`))

test('title and composer by their types, wherever they stand', () => {
  expect(
    credits(
      credit('For Left Hand', 'font-size="30" justify="center"', '<credit-type>subtitle</credit-type>'),
      credit('Low Tide', 'font-size="12"', '<credit-type>title</credit-type>'),
      credit('A. Made-up', '', '<credit-type>composer</credit-type>'),
    ),
  ).toEqual({ title: 'Low Tide', composer: 'A. Made-up' })
})

test('without types the large centred words are the title, and those alone at the right the composer (common practice)', () => {
  const title = credit('Low\n  Tide', 'justify="center" valign="top" font-size="24"')
  const composer = credit('A. Made-up', 'justify="right" font-size="12"')
  expect(
    credits(
      title,
      composer,
      credit('Printed in Nowhere', 'justify="left" font-size="9"'),
      credit('Another song', 'justify="center" font-size="40"', '', '2'),
    ),
  ).toEqual({ title: 'Low Tide', composer: 'A. Made-up' })
  expect(credits(credit('A. Made-up', 'halign="right" font-size="12"'), title)).toEqual({
    title: 'Low Tide',
    composer: 'A. Made-up',
  })
  // Composer and arranger: which is which is not said.
  expect(credits(title, composer, credit('B. Somebody', 'justify="right" font-size="12"'))).toEqual({
    title: 'Low Tide',
    composer: '',
  })
})

test('words that could be anything are no title', () => {
  expect(credits()).toEqual({ title: '', composer: '' })
  expect(credits(credit('Score', 'font-size="12" valign="top"'))).toEqual({ title: '', composer: '' })
  expect(
    credits(credit('One', 'justify="center" font-size="12"'), credit('Two', 'justify="center" font-size="12"')),
  ).toEqual({ title: '', composer: '' })
  expect(credits(credit('No size', 'justify="center"'))).toEqual({ title: '', composer: '' })
  expect(credits(credit('', 'justify="center" font-size="20"'), '<credit page="1"><credit-image/></credit>')).toEqual({
    title: '',
    composer: '',
  })
})
