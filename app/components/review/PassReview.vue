<script setup lang="ts">
import { useDates } from '~/composables/ui/useDates'
import { useWording } from '~/composables/ui/useWording'
import { standLink } from '~/utils/stand/standLink'
import { messageOf } from '~/utils/ui/messageOf'
import { evennessByFinger } from '#core/ear/by-finger'
import type { Assessment, Mode, NoteAssessment } from '#core/ear/assessment'
import { CONDITIONS, type Condition, type Finding, type Place } from '#core/ear/finding'
import type { SpanPlace } from '#core/music/stretch-place'
import { tempoText } from '#core/words/amounts'
import { HANDS_WORDS, passName } from '#core/words/passes'
import { describeStretch } from '#core/words/places'
import { isolatedPassageText } from '#core/words/stand'
import { isolatedPassage } from '#core/coach/place-alone'
import { wholeBarSpan } from '#core/music/marked'
import { barAt, type Arrangement, type Hands } from '#core/music/arrangement'
import { expectedNotes, spanPassage, wholePassage, type ExpectedNote, type ScoreSpan } from '#core/music/passage'

const props = defineProps<{
  review: {
    id: string
    song: { id: string; title: string; isDrill: boolean }
    partId: string | null
    partName: string
    place: SpanPlace | null
    stretch: ScoreSpan
    isWhole: boolean
    hands: Hands
    mode: Mode
    bpm: number
    startedAt: string
    arrangementId: string
    arrangement: Arrangement
    musicXml: string
    assessment: Assessment
    /** What an older ear called the pass, where it was another. */
    cleanBefore: boolean | null
    standAt: string | null
    remark: string
    /** How late the keyboard answers, taken off every key, ms. */
    delayMs: number
  }
}>()
const dates = useDates()
const remark = ref(props.review.remark)
const said = ref('')
async function keepRemark() {
  try {
    await $fetch(`/api/passes/${props.review.id}`, { method: 'PATCH', body: { remark: remark.value } })
    said.value = 'Saved.'
  } catch (error) {
    said.value = messageOf(error)
  }
}
const { arrangement, assessment, stretch, hands, isWhole, mode, bpm } = props.review
const { meter } = barAt(arrangement, stretch.from)

const passage = isWhole ? wholePassage(arrangement, hands) : spanPassage(stretch.from, stretch.to, hands)
const all = expectedNotes(arrangement, passage, mode === 'steady' ? bpm : undefined)
const keyOf = ({ id, time = 1 }: { id: string; time?: number }) => `${id}:${time}`
const judged = new Map(assessment.notes.map(note => [keyOf(note), note]))
/** On the page every note stands once: the time round it went worst. */
const badness = ({ outcome, sharedKey, deviationMs }: NoteAssessment) =>
  outcome === 'right' || sharedKey ? Math.abs(deviationMs ?? 0) : outcome === 'wrong' ? Infinity : Number.MAX_VALUE
const worst = new Map<string, ExpectedNote>()
for (const note of all) {
  const now = judged.get(keyOf(note))
  const before = worst.get(note.id)
  if (now && (!before || badness(now) > badness(judged.get(keyOf(before))!))) worst.set(note.id, note)
}
const expected = all.filter(note => worst.get(note.id) === note)
const onPage = computed<Assessment>(() => ({ ...assessment, notes: expected.map(note => judged.get(keyOf(note))!) }))

const chosen = ref('')
const chosenNote = computed(() => onPage.value.notes.find(note => note.id === chosen.value))

/** The place that a finding names first. */
const placeOf = (finding: Finding): Place | undefined =>
  'bar' in finding
    ? finding
    : 'fromBar' in finding
      ? { bar: finding.fromBar, beat: 1 }
      : 'place' in finding
        ? finding.place
        : undefined

function show({ bar, beat, hand }: Place) {
  const here = assessment.notes.filter(note => note.bar === bar && (!hand || note.hand === hand))
  chosen.value = (here.find(note => Math.abs(note.beat - beat) < 0.02) ?? here[0])?.id ?? ''
}
/** The same bars and hands again. */
const again = computed(() =>
  standLink(props.review.standAt!, {
    hands,
    bpm,
    mode: mode === 'free' && props.review.partId === null ? 'steady' : mode,
    stretch: isWhole ? wholeBarSpan(arrangement) : stretch,
  }),
)

/** What a finding asks to be played by itself: where, and in words. */
function aloneAt(finding: Finding) {
  const found =
    props.review.standAt && mode !== 'own-time'
      ? isolatedPassage(arrangement, finding, { stretch: isWhole ? wholeBarSpan(arrangement) : stretch, hands, bpm })
      : undefined
  return (
    found && {
      to: standLink(props.review.standAt!, found),
      words: isolatedPassageText(
        found,
        describeStretch(arrangement, found.stretch),
        barAt(arrangement, found.stretch.from).meter,
      ),
    }
  )
}

const MAX_SHOWN = 8
const { sentencesOf } = useWording()
const findings = computed(() => {
  // A clean pass says in its first sentence what comes next.
  const texts = sentencesOf(assessment.findings)
  return assessment.findings
    .slice(0, MAX_SHOWN)
    .map((finding, index) => ({ text: texts[index]!, place: placeOf(finding), alone: aloneAt(finding) }))
})
const fingers = evennessByFinger(assessment.notes)
const FAILED: Record<Condition, string> = { notes: 'right notes', time: 'in time', hands: 'hands together' }
/** One hand alone has no other to be together with. */
const conditions = CONDITIONS.filter(condition => condition !== 'hands' || hands === 'both').map(condition => ({
  name: FAILED[condition],
  isMet: !assessment.summary.failed.includes(condition),
}))
</script>

<template>
  <article>
    <header>
      <div>
        <h1>{{ review.song.title }}</h1>
        <p class="facts figure">
          {{ passName(review) }} · {{ HANDS_WORDS[hands] }} ·
          {{
            mode === 'steady'
              ? `${tempoText(bpm, meter)}, with the click`
              : mode === 'own-time'
                ? 'in your own time'
                : `about ${tempoText(bpm, meter)}, no click`
          }}
          · {{ review.delayMs === 0 ? '' : `${review.delayMs} ms of keyboard delay taken off · `
          }}<ClientOnly>{{ dates.dayName(review.startedAt) }}, {{ dates.timeOfDay(review.startedAt) }}</ClientOnly>
        </p>
      </div>
      <nav aria-label="This pass">
        <NuxtLink v-if="review.standAt" :to="again">Practise this again</NuxtLink>
        <NuxtLink :to="`/songs/${review.song.id}`">To the song</NuxtLink>
        <a :href="`/api/passes/${review.id}/take`">Take as MIDI</a>
      </nav>
    </header>

    <p v-if="review.cleanBefore !== null" class="anew">
      Reassessed: the program hears more than it did when this was played. It counted as
      {{ review.cleanBefore ? 'clean' : 'not clean' }} then and is
      {{ assessment.summary.clean ? 'clean' : 'not clean' }} now. Steps you reached with it stay reached.
    </p>

    <ul v-if="mode !== 'own-time'" class="conditions" aria-label="What makes a pass clean">
      <li v-for="condition in conditions" :key="condition.name" :class="{ met: condition.isMet }">
        <b aria-hidden="true">{{ condition.isMet ? '✓' : '▸' }}</b><span class="sr-only">{{
          condition.isMet ? 'yes:' : 'not yet:'
        }}</span>
        {{ condition.name }}
      </li>
    </ul>

    <FindingLine v-if="findings[0]" class="lead" :finding="findings[0]" @show="show" />
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
      <NoteFigures :note="chosenNote" :arrangement="arrangement" :tolerance-ms="assessment.summary.onTimeMs" />
    </div>

    <section v-if="mode !== 'own-time'" aria-label="Timing of each note">
      <DeviationChart :assessment="assessment" :chosen="chosen" @choose="chosen = $event" />
    </section>

    <form class="fields remark" @submit.prevent="keepRemark">
      <TextField v-model="remark" label="Your notes on this pass" maxlength="2000" />
      <UButton type="submit" variant="outline"> Save </UButton>
      <span role="status">{{ said }}</span>
    </form>

    <details v-if="findings.length > 1" open>
      <summary>
        <h2>What else was found ({{ findings.length - 1 }})</h2>
      </summary>
      <div class="findings">
        <FindingLine v-for="(finding, index) in findings.slice(1)" :key="index" :finding="finding" @show="show" />
      </div>
    </details>
    <section v-if="(assessment.tempos?.length ?? 0) > 1">
      <TempoCurve :tempos="assessment.tempos!" :meter="meter" />
    </section>
    <details v-if="fingers.length > 1" :open="review.song.isDrill">
      <summary><h2>Evenness by finger</h2></summary>
      <FingerTable :fingers="fingers" />
    </details>
    <details>
      <summary><h2>Measurements</h2></summary>
      <MeasureTable :measures="assessment.measures" />
    </details>
    <details>
      <summary><h2>Note by note</h2></summary>
      <NoteTable :notes="assessment.notes" :arrangement="arrangement" :chosen="chosen" @choose="chosen = $event" />
    </details>
  </article>
</template>

<style scoped>
.remark {
  margin: calc(2 * var(--step)) 0;
  display: flex;
  flex-wrap: wrap;
  gap: var(--step);
  align-items: end;
}
.remark > :first-child {
  flex: 1;
  min-width: 12rem;
}
header {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: end;
  gap: calc(2 * var(--step));
}
h1 {
  font-size: 2rem;
  line-height: 1.25;
}
h2 {
  font-weight: 700;
  font-size: 1.1rem;
  display: inline;
}
details {
  border-top: 1px solid var(--rule);
  padding: var(--step) 0;
}
summary {
  cursor: pointer;
  padding: 0.25rem 0;
}
.lead {
  margin: calc(2 * var(--step)) 0 calc(2.5 * var(--step));
  border-left: 4px solid var(--together);
  padding-left: calc(2 * var(--step));
}
.lead :deep(p) {
  font-family: var(--font-serif);
  font-size: 1.4rem;
  line-height: 1.35;
}
.page + section {
  margin-top: calc(2 * var(--step));
}
.facts {
  color: var(--ink-soft);
}
nav {
  display: flex;
  flex-wrap: wrap;
  gap: var(--step) calc(2 * var(--step));
}
nav a {
  text-decoration: underline;
  text-underline-offset: 3px;
  padding: 0.2rem 0;
}
.anew {
  margin-top: calc(2 * var(--step));
  padding: var(--step) calc(2 * var(--step));
  border-left: 4px solid var(--rule);
  color: var(--ink-soft);
}
.conditions {
  display: flex;
  flex-wrap: wrap;
  gap: 0.25rem calc(3 * var(--step));
  margin-top: calc(2 * var(--step));
  color: var(--heard-missed);
  font-weight: 700;
}
.conditions .met {
  color: var(--ink-soft);
  font-weight: 400;
}
.conditions .met b {
  color: var(--heard-right);
}
.findings {
  margin: var(--step) 0;
}
.page {
  border: 1px solid var(--rule);
  border-radius: 0.5rem;
  overflow: hidden;
  background: var(--sheet);
}
</style>
