import { onScopeDispose, shallowRef } from 'vue'
import { wrap } from 'comlink'
import { partAt } from '#core/coach/stages'
import { gatherTake, keyEvent, type KeyEvent, type Take } from '#core/ear/take'
import type { Arrangement } from '#core/music/arrangement'
import { isSameSpan, type ScoreSpan } from '#core/music/passage'
import type { Strictness } from '#core/ear/parameters'
import { spanPlace, type SpanPlace } from '#core/music/stretch-place'
import { useKeyboardsStore } from '~/stores/keyboards'
import { useOutboxStore } from '~/stores/outbox'
import { useSettingsStore } from '~/stores/settings'
import type { Recognised, RecogniserWorker } from '~/workers/recogniser'
import { askServer } from '~/utils/ui/askServer'

/** After this silence the phrase is looked up; after this one the next key begins a new phrase, ms. */
const RESTS_MS = 2_500
const ENDS_MS = 20_000
/** How much is remembered, ms and keys. */
const REMEMBERED_MS = 10 * 60_000
const MAX_EVENTS = 20_000
/** Fewer keys than this are nothing to be told of. */
const MIN_KEYS = 12
const MAX_OFFERS = 4

interface HearablePart extends ScoreSpan {
  id: string
  name: string
}
interface Hearable {
  songId: string
  title: string
  edition: string
  arrangementId: string
}

/** The same span of a song, a number of times: to be kept, or not. */
export interface RecognitionOffer {
  id: string
  title: string
  place: SpanPlace
  hands: Recognised['hands']
  bpm: number
  passes: readonly (Recognised & { partId: string; startedAt: string; isPart: boolean })[]
}

export interface Recogniser {
  missing: (ids: readonly string[]) => Promise<string[]> | string[]
  add: (id: string, arrangement: Arrangement) => Promise<void> | void
  hear: (take: Take, strictness: Strictness) => Promise<Recognised[]> | Recognised[]
}

let started: Recogniser | undefined
/** The worker stays, with the songs that it knows, as long as the page is open. */
const startWorker = (): Recogniser =>
  (started ??= wrap<RecogniserWorker>(
    new Worker(new URL('../../workers/recogniser.ts', import.meta.url), { type: 'module', name: 'recogniser' }),
  ) as unknown as Recogniser)

/**
 * Hears what is played while a page is open on which nothing is practised, knows which bars of which song it was, and
 * offers it for the book: nothing is kept without the player's yes. `mayHear`: whether this page is the one that hears
 * now.
 */
export function useRecognition(
  mayHear: () => boolean,
  {
    keyboards = useKeyboardsStore() as Pick<ReturnType<typeof useKeyboardsStore>, 'hear'>,
    outbox = useOutboxStore() as Pick<ReturnType<typeof useOutboxStore>, 'keep'>,
    settings = useSettingsStore() as Pick<ReturnType<typeof useSettingsStore>, 'strictness' | 'sound'>,
    request = askServer,
    recogniser = startWorker,
    newId = () => crypto.randomUUID() as string,
    isGone = onScopeDispose as (act: () => void) => void,
  } = {},
) {
  const offers = shallowRef<readonly RecognitionOffer[]>([])
  /** How many keys of the last ten minutes there are. */
  const keyCount = shallowRef(0)
  /** All that is remembered; what is looked at begins at `fromMs`. */
  let events: KeyEvent[] = []
  let fromMs = -Infinity
  let lastMs = -Infinity
  let timer: ReturnType<typeof setTimeout> | undefined
  let ending: ReturnType<typeof setTimeout> | undefined
  let unhear: (() => void) | undefined
  const known = new Map<string, { parts: HearablePart[]; arrangement: Arrangement }>()
  let turn = 0

  function start() {
    unhear ??= keyboards.hear(message => {
      const event = keyEvent(message)
      if (!event || settings.sound.heard === 'off' || !mayHear()) return
      if (event.atMs - lastMs > ENDS_MS) fromMs = event.atMs
      lastMs = event.atMs
      events.push(event)
      forget(event.atMs - REMEMBERED_MS)
      clearTimeout(timer)
      clearTimeout(ending)
      timer = setTimeout(() => void look(), RESTS_MS)
      ending = setTimeout(() => {
        if (settings.sound.heard === 'always') offers.value.forEach(keep)
      }, ENDS_MS)
    })
  }

  function forget(beforeMs: number) {
    const first = events.findIndex(event => event.atMs >= beforeMs)
    if (first > 0 || events.length > MAX_EVENTS) events = events.slice(Math.max(first, events.length - MAX_EVENTS))
    keyCount.value = events.filter(({ kind }) => kind === 'down').length
  }

  /**
   * Looks at what was played since it began. What cannot be looked at (a lost connection) is looked at with what comes
   * next.
   */
  async function look() {
    const own = ++turn
    const [take, startMs] = [takeFrom(fromMs), performance.timeOrigin + takeStart(fromMs)]
    if (take.notes.length < MIN_KEYS) return
    try {
      const songs = await request<Hearable[]>('/api/hearable')
      const ear = recogniser()
      for (const id of await ear.missing(songs.map(song => song.arrangementId))) await learn(ear, id)
      const found = await ear.hear(take, settings.strictness)
      if (own !== turn) return
      const made: RecognitionOffer[] = []
      for (const one of found) {
        const song = songs.find(({ arrangementId }) => arrangementId === one.arrangementId)
        const notes = song && (known.get(one.arrangementId) ?? (await learn(ear, one.arrangementId)))
        if (!song || !notes) continue
        const part = partAt(notes.parts, one.stretch) ?? notes.parts[0]
        if (!part) continue
        const pass = {
          ...one,
          partId: part.id,
          isPart: isSameSpan(part, one.stretch),
          startedAt: new Date(startMs + one.atMs).toISOString(),
        }
        const same = made.find(
          offer =>
            offer.passes[0]!.arrangementId === one.arrangementId &&
            offer.hands === one.hands &&
            isSameSpan(offer.passes[0]!.stretch, one.stretch),
        )
        if (same)
          made.splice(made.indexOf(same), 1, {
            ...same,
            passes: [...same.passes, pass],
            bpm: (same.bpm * same.passes.length + one.bpm) / (same.passes.length + 1),
          })
        else
          made.push({
            id: newId(),
            title: song.title,
            place: spanPlace(notes.arrangement, one.stretch),
            hands: one.hands,
            bpm: one.bpm,
            passes: [pass],
          })
      }
      offers.value = [...earlier(), ...made].slice(-MAX_OFFERS)
      current = new Set(made.map(({ id }) => id))
    } catch {
      /* looked at again with the next keys */
    }
  }
  /** Offers that what is being played now may still change. */
  let current = new Set<string>()
  const earlier = () => offers.value.filter(({ id }) => !current.has(id))

  async function learn(ear: Recogniser, id: string) {
    const notes = await request<{ parts: HearablePart[]; arrangement: Arrangement }>(`/api/hearable/${id}`)
    known.set(id, notes)
    await ear.add(id, notes.arrangement)
    return notes
  }

  const takeStart = (sinceMs: number): number =>
    events.find(({ kind, atMs }) => kind === 'down' && atMs >= sinceMs)?.atMs ?? 0
  /** What was played since a moment, from its first key. */
  function takeFrom(sinceMs: number): Take {
    const firstMs = takeStart(sinceMs)
    return gatherTake(
      events.filter(({ atMs }) => atMs >= firstMs).map(event => ({ ...event, atMs: event.atMs - firstMs })),
    )
  }

  /** Keeps every pass of an offer for the book. */
  function keep(offer: RecognitionOffer) {
    for (const { partId, hands, bpm, take, lengthMs, stretch, isPart, startedAt } of offer.passes) {
      void outbox.keep({
        id: newId(),
        partId,
        hands,
        mode: 'free',
        bpm: Math.min(400, Math.max(10, bpm)),
        lengthMs,
        offsetMs: 0,
        ...(isPart ? {} : { stretch }),
        strictness: settings.strictness,
        take,
        startedAt,
      })
    }
    dismiss(offer)
  }

  /** It is not offered again; what is played next is looked at by itself. */
  function dismiss(offer: RecognitionOffer) {
    offers.value = offers.value.filter(other => other !== offer)
    if (current.has(offer.id)) fromMs = lastMs + 1
    turn++
  }

  function stop() {
    clearTimeout(timer)
    clearTimeout(ending)
    unhear?.()
    unhear = undefined
  }
  isGone(stop)

  return { offers, keyCount, start, stop, keep, dismiss, lastMinutes: (): Take => takeFrom(-Infinity) }
}
