<script setup lang="ts">
import { usePlot } from '~/composables/ui/usePlot'
import type { Data, Layout } from 'plotly.js'
import type { Token } from '~/composables/ui/usePlot'

/**
 * A picture: what it says in words, and how it is drawn. What stands under it goes into the slot. While there is
 * nothing to draw, `nothing` is said in its place.
 */
const props = defineProps<{
  label: string
  nothing?: string
  figure: (token: Token) => { data: Data[]; layout: Partial<Layout> }
}>()
const box = useTemplateRef<HTMLElement>('box')
usePlot(box, token => props.figure(token), [() => props.figure])
</script>

<template>
  <p v-if="nothing" class="plot soft">
    {{ nothing }}
  </p>
  <figure v-else class="plot">
    <div ref="box" role="img" :aria-label="label" />
    <figcaption v-if="$slots.default" class="soft">
      <slot />
    </figcaption>
  </figure>
</template>
