<script setup lang="ts">
import type { Caution } from '#core/coach/cautions'
import { cautionText } from '#core/words/coach'

/** What a careful teacher would say now. Dismissed it stays away for this session, and comes back in the next. */
const props = defineProps<{ cautions: readonly Caution[] }>()
const away = useState<string[]>('cautions-dismissed', () => [])
const shown = computed(() => props.cautions.find(one => !away.value.includes(one.kind)))
</script>

<template>
  <aside v-if="shown" class="caution" role="status" aria-label="Take care">
    <UIcon name="i-lucide-hand" aria-hidden="true" />
    <p>{{ cautionText(shown) }} <NuxtLink to="/settings#care">More on taking care</NuxtLink></p>
    <UButton variant="outline" color="neutral" @click="away = [...away, shown.kind]"> Dismiss for now </UButton>
  </aside>
</template>

<style scoped>
.caution {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: calc(1.5 * var(--step));
  padding: var(--step) calc(2 * var(--step));
  background: var(--sheet);
  border: 1px solid var(--heard-missed);
  border-left-width: 6px;
  border-radius: 0.5rem;
}
p {
  flex: 1 1 16rem;
}
a {
  text-decoration: underline;
}
</style>
