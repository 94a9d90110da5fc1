import { ref } from 'vue'
import type { DrillRecipe } from '#core/patterns/drills/recipe'
import { useAction } from '~/composables/ui/useAction'

/** Keeps a drill and goes to the Stand with it. */
export function useDrillStart() {
  const { act, problem } = useAction()
  /** What is being started, by the name of its button; '' while nothing is. */
  const busy = ref('')

  /** `name` tells what is being started, for its button. */
  async function start(recipe: DrillRecipe, name = 'drill') {
    busy.value = name
    await act(async () => {
      const { partId } = await $fetch<{ id: string; partId: string }>('/api/drills', { method: 'POST', body: recipe })
      await navigateTo({ path: `/stand/${partId}`, query: { coach: '1' } })
    })
    busy.value = ''
  }
  return { busy, problem, start }
}
