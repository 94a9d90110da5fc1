import type { Arrangement } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'
import { faultOf, withOwnPart, type PartDraft } from '#core/parts/edit'
import { describeStretch } from '#core/words/places'
import { useAction } from '~/composables/ui/useAction'
import { askServer, type Request } from '~/utils/ui/askServer'

interface Work {
  arrangementId: string
  parts: (PartDraft & { ownLikeness: object })[]
}

/** Makes a part of bars chosen on the Stand; `made` is called once it is saved. */
export function useOwnPart(songId: string, arrangement: Arrangement, made: () => void, request: Request = askServer) {
  const { act, problem, isBusy } = useAction()

  async function makePart(stretch: ScoreSpan) {
    await act(async () => {
      const { arrangementId, parts } = await request<Work>(`/api/songs/${songId}/work`)
      const likeness = new Map(parts.map(part => [part.id, part.ownLikeness]))
      const words = describeStretch(arrangement, stretch)
      const next = withOwnPart(parts, stretch, `${words.charAt(0).toUpperCase()}${words.slice(1)}`)
      const fault = faultOf(arrangement, next)
      if (fault) throw new Error(fault)
      const body = {
        parts: next.map(({ id, name, section, from, to }) => ({
          ...(id ? { id } : {}),
          name,
          ...(section ? { section } : {}),
          from,
          to,
          ownLikeness: likeness.get(id) ?? {},
        })),
      }
      await request(`/api/arrangements/${arrangementId}/parts`, { method: 'PUT', body })
      made()
    })
  }

  return { makePart, isBusy, problem }
}
