<script setup lang="ts">
import { FIRST_STEP_WORDS, FIRST_STEPS, type FirstStep } from '#core/words/first-steps'

/** The way through the first steps as a flight of stairs: each tread is a link. */
defineProps<{ now: FirstStep }>()
const route = useRoute()
</script>

<template>
  <nav aria-label="First steps">
    <ol>
      <li
        v-for="(step, index) in FIRST_STEPS"
        :key="step"
        :style="{ '--height': `${0.5 + index * 0.35}rem` }"
        :class="{ now: step === now, done: FIRST_STEPS.indexOf(now) > index }"
      >
        <NuxtLink
          :to="{ query: { ...route.query, step } }"
          :aria-current="step === now ? 'step' : undefined"
          :aria-label="`${index + 1}. ${FIRST_STEP_WORDS[step].title}`"
          :title="FIRST_STEP_WORDS[step].title"
        >
          <span class="tread" />
        </NuxtLink>
      </li>
    </ol>
  </nav>
</template>

<style scoped>
ol {
  display: flex;
  align-items: end;
  gap: 3px;
  height: 4.5rem;
}
li {
  flex: 1 1 0;
}
a {
  display: flex;
  align-items: end;
  height: 4.5rem;
}
.tread {
  display: block;
  width: 100%;
  height: var(--height);
  background: var(--tread);
  border-top: 4px solid var(--rule);
}
.done .tread {
  border-color: var(--ink-soft);
}
.now .tread {
  background: color-mix(in oklab, var(--together) 28%, var(--sheet));
  border-color: var(--together);
}
a:hover .tread {
  border-color: var(--ink);
}
</style>
