import { readFileSync } from 'node:fs'
import { join } from 'node:path'
import { beforeAll, expect, test } from 'vitest'
import { isAccepted, licenceFiles, shippedPackages } from './licences.mjs'

interface Shipped {
  name: string
  licence: string
}
let packages: Shipped[]
beforeAll(async () => {
  packages = await shippedPackages()
}, 120_000)

test('every package that is shipped has a known licence, and none has the GPL alone', () => {
  expect(packages.length).toBeGreaterThan(50)
  expect(packages.filter(({ licence }) => !isAccepted(licence))).toEqual([])
  expect(['GPL-3.0-only', 'UNKNOWN', 'UNLICENSED', 'MIT AND GPL-2.0-only', ''].map(isAccepted)).not.toContain(true)
  expect(isAccepted('(BSD-3-Clause OR GPL-2.0)')).toBe(true)
})

test('what is written down of them is what is installed: npm run licences', async () => {
  const files = await licenceFiles(packages)
  for (const [path, content] of Object.entries(files))
    expect(readFileSync(join(import.meta.dirname, '..', path), 'utf8') === content, path).toBe(true)
})

test('makers, changes and texts that licences ask for are there (CC BY 3.0, section 4b; LGPL 3.0, section 4)', () => {
  const table = readFileSync(join(import.meta.dirname, '../docs/licences.md'), 'utf8')
  expect(table).toMatch(/Alexander Holm.*CC-BY-3\.0.*file names were changed/)
  expect(table).toMatch(/github\.com\/rism-digital\/verovio.*LGPL-3\.0/)
  const texts = readFileSync(join(import.meta.dirname, '../public/licences.txt'), 'utf8')
  for (const title of [
    'GNU LESSER GENERAL PUBLIC LICENSE',
    'GNU GENERAL PUBLIC LICENSE',
    'Attribution 3.0',
    'SIL OPEN FONT LICENSE',
  ])
    expect(texts.toLowerCase()).toContain(title.toLowerCase())
})
