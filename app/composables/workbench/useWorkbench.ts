import { computed, ref, shallowRef, watch } from 'vue'
import { applyChange, ImpossibleChange, type Change } from '#core/edit/change'
import { arrangementEnd, type Arrangement } from '#core/music/arrangement'
import { isSameSpan } from '#core/music/passage'
import { faultOf, keepKnown, type PartDraft } from '#core/parts/edit'
import { PROPOSAL, propose } from '#core/parts/propose'
import type { VoiceChoice } from '#core/music/voice'
import type { OwnLikeness } from '#core/parts/likeness'
import { useAction } from '~/composables/ui/useAction'
import { askServer, type Request } from '~/utils/ui/askServer'

export interface WorkPart extends PartDraft {
  ownLikeness: OwnLikeness
}

export interface WorkSong {
  id: string
  title: string
  arrangementId: string
  revision: number
  arrangement: Arrangement
  musicXml: string
  parts: WorkPart[]
  proposal: number
}

/** One state of the work: going back to it is undoing. `changes` leads there from what is saved. */
interface State {
  arrangement: Arrangement
  parts: WorkPart[]
  changes: readonly Change[]
}

const MAX_STATES = 500

/** Unsaved work as stored: each state as a number of changes with its parts. */
interface KeptStates {
  arrangementId: string
  place: number
  changes: Change[]
  states: { changes: number; parts: WorkPart[] }[]
}

const keptStates = (arrangementId: string, states: readonly State[], place: number): KeptStates => ({
  arrangementId,
  place,
  changes: [...states.at(-1)!.changes],
  states: states.map(({ changes, parts }) => ({ changes: changes.length, parts })),
})

/** The states that were kept of a revision; undefined where there are none, of another revision or of no use. */
function restoredStates(
  text: string | null,
  arrangementId: string,
  saved: State,
): { states: State[]; place: number } | undefined {
  if (text === null) return undefined
  try {
    const kept = JSON.parse(text) as KeptStates
    if (kept.arrangementId !== arrangementId || JSON.stringify(kept.states[0]!.parts) !== JSON.stringify(saved.parts))
      return undefined
    const states = [saved]
    for (const { changes, parts } of kept.states.slice(1)) {
      const before = states.at(-1)!
      const more = kept.changes.slice(before.changes.length, changes)
      states.push({
        arrangement: more.reduce(applyChange, before.arrangement),
        changes: [...before.changes, ...more],
        parts,
      })
    }
    return kept.place in states ? { states, place: kept.place } : undefined
  } catch {
    return undefined
  }
}

/** The work on a song: corrections and parts in one history with undo and redo, saved together as a new revision. */
export function useWorkbench(song: WorkSong, request: Request = askServer) {
  const arrangementId = ref(song.arrangementId)
  const revision = ref(song.revision)
  const states = shallowRef<State[]>([{ arrangement: song.arrangement, parts: song.parts, changes: [] }])
  const place = ref(0)
  /** The state that the server has, and the document it stands in: what is corrected is drawn from it. */
  const saved = shallowRef(states.value[0]!)
  const musicXml = ref(song.musicXml)
  const { act, problem, isBusy: saving } = useAction()

  const state = computed(() => states.value[place.value]!)
  const arrangement = computed(() => state.value.arrangement)
  const parts = computed(() => state.value.parts)
  const isSaved = computed(() => state.value === saved.value)

  /**
   * What would be proposed today, while the player has not answered whether to take it; undefined where that is what
   * there is.
   */
  const answered = ref<'taken' | 'declined'>()
  const offer = computed(() => {
    if (song.proposal >= PROPOSAL || answered.value) return undefined
    const proposed = propose(saved.value.arrangement)
    const isSame =
      proposed.parts.length === saved.value.parts.length &&
      proposed.parts.every((part, index) => isSameSpan(part, saved.value.parts[index]!))
    return isSame ? undefined : proposed
  })

  /**
   * Takes the new proposal, to be looked at, undone or saved; or keeps the parts as they are, and it is not offered
   * again.
   */
  async function answerOffer(isTaken: boolean) {
    const proposed = offer.value
    if (!proposed) return
    if (isTaken) setParts(keepKnown(parts.value, proposed.parts))
    else {
      if (!(await act(keepAnswer))) return
    }
    answered.value = isTaken ? 'taken' : 'declined'
  }
  const keepAnswer = async () => {
    await request(`/api/songs/${song.id}`, { method: 'PATCH', body: { proposal: PROPOSAL } })
    return true
  }

  function go(next: State) {
    problem.value = ''
    states.value = [...states.value.slice(0, place.value + 1), next].slice(-MAX_STATES)
    place.value = states.value.length - 1
  }

  /** Makes a correction; one that cannot be made says why and changes nothing. */
  function correct(change: Change): boolean {
    try {
      go({
        ...state.value,
        arrangement: applyChange(arrangement.value, change),
        changes: [...state.value.changes, change],
      })
      return true
    } catch (error) {
      if (!(error instanceof ImpossibleChange)) throw error
      problem.value = `${error.message.charAt(0).toUpperCase()}${error.message.slice(1)}.`
      return false
    }
  }

  const setParts = (next: readonly PartDraft[]) => {
    if (next.length === parts.value.length && next.every((part, index) => part === parts.value[index])) return
    const own = new Map(parts.value.map(part => [part.id, part.ownLikeness]))
    go({
      ...state.value,
      parts: next.map(part => ({ ownLikeness: (part.id === undefined ? undefined : own.get(part.id)) ?? {}, ...part })),
    })
  }

  /** A phrase as bars at the end and a part of its own. */
  function appendPhrase(notes: Extract<Change, { kind: 'append' }>['notes'], name: string): boolean {
    const from = arrangementEnd(arrangement.value)
    if (!correct({ kind: 'append', notes })) return false
    const last = states.value[place.value]!
    states.value = [
      ...states.value.slice(0, -1),
      { ...last, parts: [...last.parts, { name, from, to: arrangementEnd(last.arrangement), ownLikeness: {} }] },
    ]
    return true
  }

  /**
   * Stores unsaved work with its history from now on, so that a reload loses nothing; restores what was stored for this
   * revision first.
   */
  function keepIn(storage: Pick<Storage, 'getItem' | 'setItem' | 'removeItem'>) {
    const name = `half-step:work:${song.id}`
    const kept = restoredStates(storage.getItem(name), arrangementId.value, states.value[0]!)
    if (kept) [states.value, place.value] = [kept.states, kept.place]
    watch([states, place], () => {
      try {
        if (states.value.length < 2) storage.removeItem(name)
        else storage.setItem(name, JSON.stringify(keptStates(arrangementId.value, states.value, place.value)))
      } catch {
        // Where there is no room, it is as before: a reload begins from what is saved.
        storage.removeItem(name)
      }
    })
  }

  const undo = () => {
    if (place.value > 0) place.value--
  }
  const redo = () => {
    if (place.value < states.value.length - 1) place.value++
  }

  async function save() {
    if (isSaved.value || saving.value) return
    const now = state.value
    const fault = faultOf(now.arrangement, now.parts)
    if (fault) {
      problem.value = fault
      return
    }
    await act(async () => {
      if (now.arrangement !== saved.value.arrangement) {
        const answer = await request<{ id: string; revision: number }>(
          `/api/arrangements/${arrangementId.value}/revisions`,
          { method: 'POST', body: { changes: now.changes } },
        )
        arrangementId.value = answer.id
        revision.value = answer.revision
      }
      if (now.parts !== saved.value.parts) {
        const body = {
          parts: now.parts.map(({ id, name, section, from, to, ownLikeness }) => ({
            ...(id ? { id } : {}),
            name,
            ...(section ? { section } : {}),
            from,
            to,
            ownLikeness,
          })),
        }
        await request(`/api/arrangements/${arrangementId.value}/parts`, { method: 'PUT', body })
        if (answered.value === 'taken') await keepAnswer()
      }
      await beginAnew()
    })
  }

  /** New parts have ids now; the history restarts from what is saved. */
  async function beginAnew() {
    const fresh = await request<WorkSong>(`/api/songs/${song.id}/work`)
    const first: State = { arrangement: fresh.arrangement, parts: fresh.parts, changes: [] }
    states.value = [first]
    place.value = 0
    saved.value = first
    musicXml.value = fresh.musicXml
  }

  /**
   * Reassigns the voices; saved at once as a new revision, which can be reassigned again. Corrections must be saved
   * before.
   */
  async function giveRoles(roles: { voices?: VoiceChoice; swapHands?: boolean }) {
    if (!isSaved.value || saving.value) return
    await act(async () => {
      const answer = await request<{ id: string; revision: number }>(`/api/arrangements/${arrangementId.value}/roles`, {
        method: 'PUT',
        body: roles,
      })
      arrangementId.value = answer.id
      revision.value = answer.revision
      await beginAnew()
    })
  }

  return {
    arrangement,
    parts,
    musicXml,
    saved: computed(() => saved.value.arrangement),
    revision,
    problem,
    saving,
    isSaved,
    save,
    giveRoles,
    offer,
    answerOffer,
    correct,
    setParts,
    appendPhrase,
    undo,
    redo,
    keepIn,
    canUndo: computed(() => place.value > 0),
    canRedo: computed(() => place.value < states.value.length - 1),
  }
}

export type Workbench = ReturnType<typeof useWorkbench>
