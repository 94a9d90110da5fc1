<script setup lang="ts">
import { framed, type Token } from '~/composables/ui/usePlot'
import { byWeek } from '~/utils/ui/byWeek'
import { dayAxis } from '~/utils/ui/dayAxis'
/** Minutes really played, a bar a day; weeks where there are many. */
const props = defineProps<{ days: readonly { day: string; minutes: number; passes: number; clean: number }[] }>()
/** More bars than this are no bars any more. */
const MAX_BARS = 120
const DAY_MS = 86_400_000
const WEEK_MS = 7 * DAY_MS
/** What a bar takes of its day or week. */
const BAR_WIDTH = 0.8

const unit = computed(() => (props.days.length > MAX_BARS ? 'week' : 'day'))
const figure = computed(() => {
  const shown = unit.value === 'week' ? byWeek(props.days) : props.days.map(day => ({ from: day.day, ...day }))
  return (token: Token) => ({
    data: [
      {
        type: 'bar' as const,
        x: shown.map(one => one.from),
        y: shown.map(one => one.minutes),
        width: BAR_WIDTH * (unit.value === 'week' ? WEEK_MS : DAY_MS),
        marker: { color: token('--together') },
        hovertemplate: '%{x}: %{y:.0f} min<extra></extra>',
      },
    ],
    layout: framed(`Minutes at the keys, a bar a ${unit.value}`, {
      xaxis: dayAxis(shown.map(one => one.from)),
      yaxis: { rangemode: 'tozero' },
    }),
  })
})
const minutes = computed(() => Math.round(props.days.reduce((sum, day) => sum + day.minutes, 0)))
</script>

<template>
  <PlotFigure :label="`Minutes at the keys by ${unit}: ${minutes} in all on ${days.length} days`" :figure="figure" />
</template>
