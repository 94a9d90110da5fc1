import { ref } from 'vue'
import type { DrillRecipe } from '#core/patterns/drills/recipe'
import { messageOf } from '~/utils/ui/messageOf'

/** Keeps a drill and goes to the Stand with it. */
export function useDrillStart() {
  const busy = ref('')
  const problem = ref('')

  /** `name` tells what is being started, for its button. */
  async function start(recipe: DrillRecipe, name = 'drill') {
    busy.value = name
    problem.value = ''
    try {
      const { partId } = await $fetch<{ id: string; partId: string }>('/api/drills', { method: 'POST', body: recipe })
      await navigateTo({ path: `/stand/${partId}`, query: { coach: '1' } })
    } catch (error) {
      problem.value = messageOf(error)
    } finally {
      busy.value = ''
    }
  }
  return { busy, problem, start }
}
