<script setup lang="ts">
import type { Assessment, Finding, Mode, NoteAssessment } from '#core/ear/assessment'
import type { Arrangement, Hands } from '#core/music/arrangement'
import { expectedNotes, stretchPassage, wholePassage, type Stretch } from '#core/music/passage'

const props = defineProps<{
  review: {
    id: string
    song: { id: string, title: string }
    partId: string | null
    partName: string
    stretch: Stretch
    isWhole: boolean
    hands: Hands
    mode: Mode
    bpm: number
    startedAt: string
    arrangementId: string
    arrangement: Arrangement
    musicXml: string
    assessment: Assessment
    remark: string
  }
}>()
const remark = ref(props.review.remark)
const said = ref('')
async function keepRemark() {
  try {
    await $fetch(`/api/passes/${props.review.id}`, { method: 'PATCH', body: { remark: remark.value } })
    said.value = 'Kept.'
  }
  catch (error) { said.value = messageOf(error) }
}
const { arrangement, assessment, stretch, hands, isWhole, mode, bpm } = props.review
const HANDS: Record<Hands, string> = { left: 'left hand', right: 'right hand', both: 'together' }

const passage = isWhole ? wholePassage(arrangement, hands) : stretchPassage(stretch.from, stretch.to, hands)
const all = expectedNotes(arrangement, passage, mode === 'steady' ? bpm : undefined)
/** On the page every note stands once: the time round it went worst. */
const badness = ({ outcome, sharedKey, deviationMs }: NoteAssessment) => outcome === 'right' || sharedKey ? Math.abs(deviationMs ?? 0) : outcome === 'wrong' ? Infinity : Number.MAX_VALUE
const worst = new Map<string, number>()
all.forEach(({ id }, index) => {
  const before = worst.get(id)
  if (before === undefined || badness(assessment.notes[index]!) > badness(assessment.notes[before]!)) worst.set(id, index)
})
const shown = [...worst.values()].sort((a, b) => a - b)
const expected = shown.map(index => all[index]!)
const onPage = computed<Assessment>(() => ({ ...assessment, notes: shown.map(index => assessment.notes[index]!) }))

const chosen = ref('')
const chosenNote = computed(() => onPage.value.notes.find(note => note.id === chosen.value))

/** The first note of the place a finding names. */
function show({ bar, beat, hand }: Finding) {
  const at = (note: NoteAssessment) => note.bar === bar && (beat === undefined || Math.abs(note.beat - beat) < 0.02) && (!hand || note.hand === hand)
  chosen.value = assessment.notes.find(at)?.id ?? ''
}
const findings = computed(() => assessment.findings.slice(0, 8))
</script>

<template>
  <article>
    <header>
      <div>
        <h1>{{ review.song.title }}</h1>
        <p class="facts figure">
          {{ review.partName }} · {{ HANDS[hands] }} · {{ mode === 'steady' ? `${Math.round(bpm)} bpm with the click` : mode === 'own-time' ? 'in your own time' : `found at ${Math.round(bpm)} bpm, without a click` }} ·
          <ClientOnly>{{ dayName(review.startedAt) }}, {{ timeOfDay(review.startedAt) }}</ClientOnly>
        </p>
      </div>
      <nav aria-label="This pass">
        <NuxtLink
          v-if="review.partId"
          :to="{ path: `/stand/${review.partId}`, query: { hands, bpm } }"
        >Practise this part</NuxtLink>
        <NuxtLink :to="`/songs/${review.song.id}`">To the song</NuxtLink>
        <a :href="`/api/passes/${review.id}/take`">Take as MIDI</a>
      </nav>
    </header>

    <ol class="findings">
      <li
        v-for="(finding, index) in findings"
        :key="index"
        :class="{ first: index === 0 }"
      >
        <p>{{ finding.text }}</p>
        <UButton
          v-if="finding.bar !== undefined"
          size="sm"
          variant="ghost"
          icon="i-lucide-map-pin"
          :aria-label="`Show bar ${finding.bar} in the notes`"
          @click="show(finding)"
        >
          Show
        </UButton>
      </li>
    </ol>

    <div class="page">
      <PartNotation
        :arrangement="arrangement"
        :music-xml="review.musicXml"
        :score-id="review.arrangementId"
        :stretch="stretch"
        :expected="expected"
        :marks="new Map()"
        :assessment="onPage"
        :tolerance-ms="assessment.summary.onTimeMs"
        :chosen="chosen"
        choosable
        @choose="chosen = $event"
      />
      <NoteFigures
        :note="chosenNote"
        :arrangement="arrangement"
        :tolerance-ms="assessment.summary.onTimeMs"
      />
    </div>

    <form
      class="fields remark"
      @submit.prevent="keepRemark"
    >
      <label for="remark">In your own words</label>
      <input
        id="remark"
        v-model="remark"
        maxlength="2000"
      >
      <UButton
        type="submit"
        variant="outline"
      >
        Keep
      </UButton>
      <span role="status">{{ said }}</span>
    </form>

    <section
      v-if="mode !== 'own-time'"
      aria-labelledby="deviations"
    >
      <h2 id="deviations">
        Where the notes lay
      </h2>
      <DeviationChart
        :assessment="assessment"
        :chosen="chosen"
        @choose="chosen = $event"
      />
    </section>

    <section aria-labelledby="measures">
      <h2 id="measures">
        What was measured
      </h2>
      <MeasureTable :measures="assessment.measures" />
    </section>

    <section aria-labelledby="notes">
      <h2 id="notes">
        Note by note
      </h2>
      <NoteTable
        :notes="assessment.notes"
        :arrangement="arrangement"
        :chosen="chosen"
        @choose="chosen = $event"
      />
    </section>
  </article>
</template>

<style scoped>
.remark { display: flex; flex-wrap: wrap; gap: var(--step); align-items: center; }
.remark input { flex: 1; min-width: 12rem; }
header { display: flex; flex-wrap: wrap; justify-content: space-between; align-items: end; gap: calc(2 * var(--step)); }
h1 { font-size: 2rem; line-height: 1.25; }
h2 { font-weight: 700; font-size: 1.2rem; margin: calc(4 * var(--step)) 0 var(--step); }
.facts { color: var(--ink-soft); }
nav { display: flex; flex-wrap: wrap; gap: var(--step) calc(2 * var(--step)); }
nav a { text-decoration: underline; text-underline-offset: 3px; padding: 0.2rem 0; }
/* The steps again: the first thing to do stands highest. */
.findings { margin: calc(2 * var(--step)) 0 calc(3 * var(--step)); border-left: 4px solid var(--together); }
.findings li { display: flex; align-items: baseline; gap: calc(2 * var(--step)); justify-content: space-between; padding: 0.3rem 0 0.3rem calc(2 * var(--step)); }
.findings .first p { font-family: var(--font-serif); font-size: 1.4rem; line-height: 1.35; }
.page { border: 1px solid var(--rule); border-radius: 0.5rem; overflow: hidden; background: var(--sheet); }
</style>
