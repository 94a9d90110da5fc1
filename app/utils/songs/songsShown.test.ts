import { describe, expect, it } from 'vitest'
import { songsShown } from './songsShown'

const song = (title: string, passes = 0, lastPractised: string | null = null, composer = '') => ({
  title,
  composer,
  passes,
  lastPractised,
})
const SONGS = [
  song('Étude for One', 3, '2026-03-02'),
  song('Barcarolle', 0, null, 'A. Somebody'),
  song('A Rag', 90, '2026-03-01'),
]
const titles = (wish: Partial<Parameters<typeof songsShown>[1]>) =>
  songsShown(SONGS, { wanted: '', order: 'last-played', filter: 'all', ...wish }).map(one => one.title)

describe('the list of songs', () => {
  it('is sorted by when they were played last, by title, or by how often', () => {
    expect(titles({})).toEqual(['Étude for One', 'A Rag', 'Barcarolle'])
    expect(titles({ order: 'title' })).toEqual(['A Rag', 'Barcarolle', 'Étude for One'])
    expect(titles({ order: 'passes' })).toEqual(['A Rag', 'Étude for One', 'Barcarolle'])
  })
  it('is searched word by word, without case and accents', () => {
    expect(titles({ wanted: 'etude ONE' })).toEqual(['Étude for One'])
    expect(titles({ wanted: 'somebody' })).toEqual(['Barcarolle'])
    expect(titles({ wanted: 'nothing' })).toEqual([])
  })
  it('shows those in progress or those not started', () => {
    expect(titles({ filter: 'started' })).toEqual(['Étude for One', 'A Rag'])
    expect(titles({ filter: 'new' })).toEqual(['Barcarolle'])
  })
})
