<script setup lang="ts">
/** Minutes really played, a bar a day; weeks where there are many. */
const props = defineProps<{ days: readonly { day: string, minutes: number, passes: number, clean: number }[] }>()
const box = useTemplateRef<HTMLElement>('box')
/** More bars than this are no bars any more. */
const MOST_BARS = 120

const shown = computed(() => props.days.length > MOST_BARS ? byWeek(props.days) : props.days.map(day => ({ from: day.day, ...day })))
const unit = computed(() => props.days.length > MOST_BARS ? 'week' : 'day')

usePlot(box, token => ({
  data: [{ type: 'bar', x: shown.value.map(one => one.from), y: shown.value.map(one => one.minutes), marker: { color: token('--together') }, hovertemplate: '%{x}: %{y:.0f} min<extra></extra>' }],
  layout: framed(`Minutes at the keys, a bar a ${unit.value}`, { xaxis: { type: 'date' }, yaxis: { rangemode: 'tozero' }, bargap: 0.2 }),
}), [shown])
const minutes = computed(() => Math.round(props.days.reduce((sum, day) => sum + day.minutes, 0)))
</script>

<template>
  <figure class="plot">
    <div
      ref="box"
      role="img"
      :aria-label="`Minutes at the keys by ${unit}: ${minutes} in all on ${days.length} days`"
    />
  </figure>
</template>
