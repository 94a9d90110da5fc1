import { nextTick } from 'vue'
import { beforeEach, describe, expect, it } from 'vitest'
import { DEMO_FILES, demoScore } from '../../../tests/material/demo'
import { PROPOSAL, proposeParts } from '#core/parts/propose'
import type { Request } from '~/utils/ui/askServer'
import { useWorkbench, type WorkSong } from './useWorkbench'

const { arrangement } = demoScore(DEMO_FILES[0]!)
const song = (): WorkSong => ({
  id: 'song',
  title: 'Song',
  arrangementId: 'first',
  revision: 1,
  arrangement,
  musicXml: demoScore(DEMO_FILES[0]!).musicXml,
  proposal: PROPOSAL,
  parts: proposeParts(arrangement).map((part, index) => ({ ...part, id: `part-${index}`, ownLikeness: {} })),
})
const first = arrangement.notes[0]!

describe('the work on a song', () => {
  const asked: {
    url: string
    method?: string
    body?: { changes?: unknown[]; parts?: { id?: string; name: string }[] }
  }[] = []
  let answers: Record<string, () => unknown> = {}
  beforeEach(() => {
    asked.length = 0
    answers = {}
  })
  /** A server that answers what it was told to. */
  const server = ((url: string, options: object = {}) => {
    asked.push({ url, ...options })
    const answer = answers[url]
    return answer ? Promise.resolve().then(answer) : Promise.reject(new Error(`nobody asked for ${url}`))
  }) as Request

  describe('a song whose parts an earlier revision proposed', () => {
    const old = (): WorkSong => ({
      ...song(),
      proposal: 1,
      parts: [
        {
          id: 'whole',
          name: 'All of it',
          from: arrangement.bars[0]!.start,
          to: proposeParts(arrangement).at(-1)!.to,
          ownLikeness: {},
        },
      ],
    })
    it('keeps them, and is offered those of today', () => {
      const work = useWorkbench(old(), server)
      expect([work.parts.value.length, work.offer.value!.parts.length]).toEqual([1, proposeParts(arrangement).length])
      expect(useWorkbench({ ...song(), proposal: 1 }, server).offer.value).toBeUndefined()
      expect(useWorkbench({ ...old(), proposal: PROPOSAL }, server).offer.value).toBeUndefined()
    })
    it('takes them to look at, undo or save, and says so when they are saved', async () => {
      const work = useWorkbench(old(), server)
      await work.answerOffer(true)
      expect([
        work.parts.value.length,
        work.parts.value[0]!.section,
        work.offer.value,
        work.isSaved.value,
        asked.length,
      ]).toEqual([proposeParts(arrangement).length, 'Verse 1', undefined, false, 0])
      work.undo()
      expect(work.parts.value.map(part => part.name)).toEqual(['All of it'])
      work.redo()
      answers = {
        '/api/arrangements/first/parts': () => undefined,
        '/api/songs/song': () => undefined,
        '/api/songs/song/work': () => song(),
      }
      await work.save()
      expect(asked.map(one => [one.method, one.url])).toEqual([
        ['PUT', '/api/arrangements/first/parts'],
        ['PATCH', '/api/songs/song'],
        [undefined, '/api/songs/song/work'],
      ])
      expect(asked[0]!.body!.parts![0]).toMatchObject({ section: 'Verse 1' })
    })
    it('keeps its own when the player says so, and is not asked again', async () => {
      const work = useWorkbench(old(), server)
      await work.answerOffer(false)
      expect([work.offer.value === undefined, work.problem.value]).toEqual([
        false,
        expect.stringContaining('nobody asked'),
      ])
      answers = { '/api/songs/song': () => undefined }
      await work.answerOffer(false)
      expect([work.offer.value, work.parts.value.length, asked.at(-1)!.body]).toEqual([
        undefined,
        1,
        { proposal: PROPOSAL },
      ])
    })
  })

  it('is undone and redone, corrections and parts in one history', () => {
    const work = useWorkbench(song(), server)
    expect([work.canUndo.value, work.canRedo.value, work.isSaved.value]).toEqual([false, false, true])
    expect(work.correct({ kind: 'pitch', ids: [first.id], halfSteps: 1 })).toBe(true)
    work.setParts(work.parts.value.slice(1))
    expect([work.arrangement.value.notes.find(note => note.id === first.id)!.pitch, work.parts.value.length]).toEqual([
      first.pitch + 1,
      song().parts.length - 1,
    ])
    work.undo()
    expect(work.parts.value.length).toBe(song().parts.length)
    work.undo()
    expect(work.arrangement.value).toBe(arrangement)
    expect(work.isSaved.value).toBe(true)
    work.redo()
    expect(work.isSaved.value).toBe(false)
    expect(work.correct({ kind: 'finger', id: first.id, finger: 2 })).toBe(true)
    expect(work.canRedo.value).toBe(false)
  })

  it('says why a correction cannot be made, and changes nothing', () => {
    const work = useWorkbench(song(), server)
    expect(work.correct({ kind: 'delete', ids: ['nobody'] })).toBe(false)
    expect(work.problem.value).toBe('This note is not there any more.')
    expect(work.arrangement.value).toBe(arrangement)
    expect(work.canUndo.value).toBe(false)
  })

  it('a phrase put in is one step, with its part', () => {
    const work = useWorkbench(song(), server)
    expect(
      work.appendPhrase([{ hand: 'right', onset: { n: 0, d: 1 }, duration: { n: 1, d: 1 }, pitch: 72 }], 'By ear'),
    ).toBe(true)
    expect(work.parts.value.at(-1)).toMatchObject({ name: 'By ear' })
    expect(work.arrangement.value.bars.length).toBe(arrangement.bars.length + 1)
    work.undo()
    expect([work.parts.value.length, work.arrangement.value]).toEqual([song().parts.length, arrangement])
  })

  it('is saved as corrections from what is kept, then the parts of the new revision', async () => {
    const work = useWorkbench(song(), server)
    const saved = { ...song(), arrangementId: 'second', revision: 2 }
    answers = {
      '/api/arrangements/first/revisions': () => ({ id: 'second', revision: 2 }),
      '/api/arrangements/second/parts': () => undefined,
      '/api/songs/song/work': () => saved,
    }
    work.correct({ kind: 'finger', id: first.id, finger: 2 })
    work.correct({ kind: 'finger', id: first.id, finger: 4 })
    work.undo()
    work.setParts(work.parts.value.map((part, index) => (index === 0 ? { ...part, name: 'Opening' } : part)))
    await work.save()
    expect(asked.map(one => `${one.method ?? 'GET'} ${one.url}`)).toEqual([
      'POST /api/arrangements/first/revisions',
      'PUT /api/arrangements/second/parts',
      'GET /api/songs/song/work',
    ])
    expect(asked[0]!.body!.changes).toEqual([{ kind: 'finger', id: first.id, finger: 2 }])
    expect(asked[1]!.body!.parts![0]).toMatchObject({ id: 'part-0', name: 'Opening' })
    expect([work.revision.value, work.isSaved.value, work.canUndo.value]).toEqual([2, true, false])
  })

  it('only parts: no new revision', async () => {
    const work = useWorkbench(song(), server)
    answers = { '/api/arrangements/first/parts': () => undefined, '/api/songs/song/work': song }
    work.setParts(work.parts.value.slice(0, 2))
    await work.save()
    expect(asked.map(one => one.url)).toEqual(['/api/arrangements/first/parts', '/api/songs/song/work'])
  })

  it('loses nothing when saving fails', async () => {
    const work = useWorkbench(song(), server)
    answers = {
      '/api/arrangements/first/revisions': () => {
        throw new Error('this song was changed in another window since')
      },
    }
    work.correct({ kind: 'finger', id: first.id, finger: 2 })
    await work.save()
    expect(work.problem.value).toContain('another window')
    expect([work.isSaved.value, work.saving.value, work.canUndo.value]).toEqual([false, false, true])
  })

  it('asks for nothing when nothing was changed', async () => {
    const work = useWorkbench(song(), server)
    await work.save()
    work.setParts([...work.parts.value])
    expect(work.canUndo.value).toBe(false)
    expect(asked).toEqual([])
  })

  it('who plays what is saved at once and begun from anew; corrections must be saved before', async () => {
    const work = useWorkbench(song(), server)
    const given = { ...song(), arrangementId: 'second', revision: 2, arrangement: { ...arrangement, title: 'Given' } }
    answers = {
      '/api/arrangements/first/roles': () => ({ id: 'second', revision: 2 }),
      '/api/songs/song/work': () => given,
    }
    work.correct({ kind: 'pitch', ids: [first.id], halfSteps: 1 })
    await work.giveRoles({ swapHands: true })
    expect(asked).toEqual([])
    work.undo()
    await work.giveRoles({ voices: { 1: 'left' } })
    expect(asked[0]).toMatchObject({
      url: '/api/arrangements/first/roles',
      method: 'PUT',
      body: { voices: { 1: 'left' } },
    })
    expect([work.revision.value, work.arrangement.value.title, work.isSaved.value, work.canUndo.value]).toEqual([
      2,
      'Given',
      true,
      false,
    ])
  })

  it('says why nobody could be given anything', async () => {
    const work = useWorkbench(song(), server)
    answers = {
      '/api/arrangements/first/roles': () => {
        throw new Error('no voice is left to a hand')
      },
    }
    await work.giveRoles({ voices: { 1: 'role' } })
    expect([work.problem.value, work.revision.value, work.saving.value]).toEqual([
      'no voice is left to a hand',
      1,
      false,
    ])
  })
})

describe('unsaved work', () => {
  /** The storage of a tab. */
  const storageOf = (kept = new Map<string, string>()) => ({
    kept,
    getItem: (name: string) => kept.get(name) ?? null,
    setItem: (name: string, text: string) => {
      kept.set(name, text)
    },
    removeItem: (name: string) => {
      kept.delete(name)
    },
  })
  const nobody = (() => Promise.reject(new Error('nobody is asked'))) as Request
  async function begun(storage: ReturnType<typeof storageOf>, of = song()) {
    const work = useWorkbench(of, nobody)
    work.keepIn(storage)
    await nextTick()
    return work
  }

  it('outlasts a reload with its history', async () => {
    const storage = storageOf()
    const before = await begun(storage)
    before.correct({ kind: 'pitch', ids: [first.id], halfSteps: 1 })
    before.setParts(before.parts.value.slice(0, -1))
    before.correct({ kind: 'pitch', ids: [first.id], halfSteps: 1 })
    before.undo()
    await nextTick()
    const after = await begun(storage)
    expect(after.isSaved.value).toBe(false)
    expect(after.arrangement.value).toEqual(before.arrangement.value)
    expect(after.parts.value).toEqual(before.parts.value)
    after.redo()
    expect(after.arrangement.value.notes[0]!.pitch).toBe(first.pitch + 2)
    for (let times = 0; times < 3; times++) after.undo()
    expect([after.isSaved.value, after.canUndo.value, after.arrangement.value.notes[0]!.pitch]).toEqual([
      true,
      false,
      first.pitch,
    ])
  })
  it('of another revision, of other parts or of no sense is let go', async () => {
    const storage = storageOf()
    const before = await begun(storage)
    before.correct({ kind: 'pitch', ids: [first.id], halfSteps: 1 })
    await nextTick()
    expect((await begun(storageOf(new Map(storage.kept)), { ...song(), arrangementId: 'second' })).isSaved.value).toBe(
      true,
    )
    expect(
      (await begun(storageOf(new Map(storage.kept)), { ...song(), parts: song().parts.slice(1) })).isSaved.value,
    ).toBe(true)
    for (const text of ['', '{}', '[1]', 'null'])
      expect((await begun(storageOf(new Map([...storage.kept.keys()].map(name => [name, text]))))).isSaved.value).toBe(
        true,
      )
  })
  it('is kept no longer than it is unsaved, and where there is no room nothing breaks', async () => {
    const storage = storageOf()
    const work = await begun(storage)
    work.correct({ kind: 'pitch', ids: [first.id], halfSteps: 1 })
    await nextTick()
    expect(storage.kept.size).toBe(1)
    const full = {
      ...storageOf(),
      setItem: () => {
        throw new DOMException('full', 'QuotaExceededError')
      },
    }
    const other = await begun(full)
    expect(other.correct({ kind: 'pitch', ids: [first.id], halfSteps: 1 })).toBe(true)
    await nextTick()
    expect(other.isSaved.value).toBe(false)
  })
})
