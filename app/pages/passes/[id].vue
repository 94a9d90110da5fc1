<script setup lang="ts">
import { useOutboxStore } from '~/stores/outbox'
import { messageOf } from '~/utils/ui/messageOf'
import { throwIfUnavailable } from '~/utils/ui/throwIfUnavailable'
const route = useRoute()
const {
  data: review,
  error,
  refresh,
} = await useFetch(`/api/passes/${String(route.params.id)}/review`, { deep: false })
throwIfUnavailable(error)
useHead({ title: () => `${review.value ? `${review.value.song.title}: review` : 'Review'} · Half Step` })

/** A pass just played may still be on its way to the server. */
const outbox = useOutboxStore()
const tries = ref(0)
const { start } = useTimeoutFn(
  async () => {
    tries.value++
    await outbox.send()
    await refresh()
    if (error.value && tries.value < 5) start()
  },
  700,
  { immediate: false },
)
onMounted(() => {
  if (error.value?.statusCode === 404) start()
})
</script>

<template>
  <div class="review">
    <p v-if="error && tries < 5 && error.statusCode === 404">The pass is being saved …</p>
    <p v-else-if="error">{{ messageOf(error) }} <NuxtLink to="/logbook">Back to the Logbook</NuxtLink></p>
    <PassReview v-else-if="review" :key="review.id" :review="review" />
  </div>
</template>

<style scoped>
.review {
  max-width: 84rem;
  margin: 0 auto;
  padding: calc(3 * var(--step));
}
a {
  text-decoration: underline;
}
</style>
