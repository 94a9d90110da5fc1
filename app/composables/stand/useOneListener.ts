import { onScopeDispose } from 'vue'
import { useEventListener } from '@vueuse/core'

interface Claim {
  from: string
  page: string
}
/** What is used of a BroadcastChannel. */
export interface Channel {
  postMessage: (claim: Claim) => void
  onmessage: ((event: { data: Claim }) => void) | null
  close: () => void
}

/** Undefined on the server, where pages are rendered first. */
export const openChannel = (name = LISTENERS): Channel | undefined =>
  typeof window !== 'undefined' && 'BroadcastChannel' in window
    ? (new BroadcastChannel(name) as unknown as Channel)
    : undefined
const LISTENERS = 'half-step-listener'

/** Tells whenever a page on which somebody practises takes the keyboards, without being one of these. */
export function useStandClaims(claimed: () => void, channel = openChannel()): void {
  if (channel) channel.onmessage = claimed
  onScopeDispose(() => channel?.close())
}

/**
 * Only one page listens to the keyboards: the one focused last. `page` identifies this one to the others; `taken` is
 * called when another page takes over, `mine` when this one does.
 */
export function useOneListener(
  page: () => string,
  told: { taken: (page: string) => void; mine: () => void },
  {
    channel = openChannel(),
    listen = useEventListener as (name: string, act: () => void) => void,
    id = crypto.randomUUID() as string,
  } = {},
) {
  function claim() {
    channel?.postMessage({ from: id, page: page() })
    told.mine()
  }
  if (channel)
    channel.onmessage = ({ data }) => {
      if (data.from !== id) told.taken(data.page)
    }
  listen('focus', claim)
  onScopeDispose(() => channel?.close())
  return { claim }
}
