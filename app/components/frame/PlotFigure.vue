<script setup lang="ts">
import { usePlot } from '~/composables/ui/usePlot'
import type { Data, Layout } from 'plotly.js'
import type { Token } from '~/composables/ui/usePlot'

/**
 * A chart with its text alternative. Content under it goes into the slot. While there is nothing to draw, `nothing` is
 * shown.
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
