<script setup lang="ts">
import type { Place } from '#core/ear/finding'
import type { standLink } from '~/utils/stand/standLink'

/** One thing that was found in a pass: in words, where, and what to play by itself. */
defineProps<{ finding: { text: string; place?: Place; alone?: { to: ReturnType<typeof standLink>; words: string } } }>()
defineEmits<{ show: [place: Place] }>()
</script>

<template>
  <div class="finding">
    <p>{{ finding.text }}</p>
    <UButton
      v-if="finding.place"
      size="sm"
      variant="ghost"
      icon="i-lucide-map-pin"
      :aria-label="`Show bar ${finding.place.bar} in the notes`"
      @click="$emit('show', finding.place)"
    >
      Show
    </UButton>
    <UButton v-if="finding.alone" size="sm" variant="outline" icon="i-lucide-repeat-1" :to="finding.alone.to">
      {{ finding.alone.words }}
    </UButton>
  </div>
</template>

<style scoped>
.finding {
  display: flex;
  flex-wrap: wrap;
  align-items: baseline;
  gap: 0.25rem calc(2 * var(--step));
  padding: 0.3rem 0;
}
p {
  flex: 1 1 24rem;
}
</style>
