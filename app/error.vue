<script setup lang="ts">
import type { NuxtError } from '#app'

/**
 * What is shown when a page cannot be: in words, with a way on. While the server cannot do its work the page waits for
 * it and comes back by itself.
 */
const props = defineProps<{ error: NuxtError }>()
const isAway = computed(() => props.error.statusCode === 503)
const isNowhere = computed(() => props.error.statusCode === 404)
const title = computed(() =>
  isAway.value ? 'Not available right now' : isNowhere.value ? 'This page does not exist' : 'Something went wrong',
)
const words = computed(() =>
  isAway.value
    ? 'The server cannot answer at the moment. What you have played waits in this browser until the server has it. This page comes back by itself.'
    : isNowhere.value
      ? 'The address may be wrong, or what was here is gone.'
      : 'Half Step could not make this page. Trying again often helps.',
)
useHead({ title: () => `${title.value} · Half Step` })

const LOOK_MS = 3_000
useIntervalFn(async () => {
  if (isAway.value && (await fetch('/api/health').catch(() => undefined))?.ok) reload()
}, LOOK_MS)

const reload = () => location.reload()
</script>

<template>
  <UApp>
    <main class="sorry">
      <h1>{{ title }}</h1>
      <p>{{ words }}</p>
      <div class="ways">
        <UButton v-if="!isNowhere" icon="i-lucide-rotate-ccw" size="lg" @click="reload"> Try again </UButton>
        <UButton :variant="isNowhere ? 'solid' : 'outline'" size="lg" @click="clearError({ redirect: '/' })">
          Go to Today
        </UButton>
      </div>
    </main>
  </UApp>
</template>

<style scoped>
.sorry {
  max-width: 34rem;
  margin: 14vh auto;
  padding: calc(3 * var(--step));
  display: grid;
  gap: calc(2 * var(--step));
}
h1 {
  font-size: 2rem;
}
.ways {
  display: flex;
  flex-wrap: wrap;
  gap: calc(2 * var(--step));
  margin-top: var(--step);
}
</style>
