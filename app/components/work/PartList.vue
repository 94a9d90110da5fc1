<script setup lang="ts">
import type { Arrangement } from '#core/music/arrangement'
import type { ScoreSpan } from '#core/music/passage'
import { describeStretch } from '#core/words/places'
import { goneText } from '#core/words/parts'
import {
  beginSection,
  cutPart,
  keepKnown,
  mergeWithNext,
  middleOf,
  renameSection,
  reorder,
  sectionRuns,
  uncovered,
  withOwnPart,
  type PartDraft,
} from '#core/parts/edit'
import { proposeParts } from '#core/parts/propose'
import type { WorkPart } from '~/composables/workbench/useWorkbench'

/**
 * The sections and their parts, in order: chosen, named, moved, cut, merged, proposed again. `selected`: the bars of
 * the chosen notes.
 */
const props = defineProps<{ arrangement: Arrangement; parts: readonly WorkPart[]; selected?: ScoreSpan }>()
const emit = defineEmits<{ change: [parts: PartDraft[]] }>()
const chosen = defineModel<number>('chosen', { required: true })
const bars = ref(4)

/** More parts than this are shown by section, the others folded away. */
const MAX_OPEN = 12
const runs = computed(() =>
  sectionRuns(props.parts).map(run => ({
    ...run,
    parts: props.parts
      .slice(run.first, run.first + run.count)
      .map((part, index) => ({ part, index: run.first + index })),
  })),
)
const hasSections = computed(() => runs.value.some(run => run.name !== undefined))
const chosenRun = computed(() => runs.value.findLastIndex(run => run.first <= chosen.value))
const folded = ref(new Set<number>())
const opened = ref(new Set<number>())
const isOpen = (run: number) =>
  !hasSections.value ||
  run === chosenRun.value ||
  opened.value.has(run) ||
  (props.parts.length <= MAX_OPEN && !folded.value.has(run))

function toggle(run: number) {
  const isFoldedNow = !isOpen(run)
  const [into, from] = isFoldedNow ? [opened.value, folded.value] : [folded.value, opened.value]
  into.add(run)
  from.delete(run)
}

function change(parts: PartDraft[], next = chosen.value) {
  told.value = ''
  emit('change', parts)
  chosen.value = Math.max(0, Math.min(parts.length - 1, next))
}

function rename(index: number, event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name !== '' && name !== props.parts[index]!.name)
    change(props.parts.map((part, place) => (place === index ? { ...part, name } : part)))
}

function nameSection(event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name !== (props.parts[chosen.value]!.section ?? '')) change(renameSection(props.parts, chosen.value, name))
}

const isFirstInSection = computed(() => runs.value[chosenRun.value]?.first === chosen.value)

/** A section begins at the chosen part, or is joined with the one before it. */
function sectionHere() {
  const before = runs.value[chosenRun.value - 1]
  if (isFirstInSection.value && before) change(renameSection(props.parts, chosen.value, before.name ?? ''))
  else change(beginSection(props.parts, chosen.value, `Section ${runs.value.length + 1}`))
}

function move(by: number) {
  const to = chosen.value + by
  if (to >= 0 && to < props.parts.length) change(reorder(props.parts, chosen.value, to), to)
}

const cut = () => change(cutPart(props.parts, chosen.value, middleOf(props.arrangement, props.parts[chosen.value]!)))

/** A new part is what is selected in the music, or bars that no part has yet. */
const newStretch = computed(
  () => props.selected ?? uncovered(props.arrangement, props.parts, props.parts[chosen.value]!.from),
)
function add() {
  if (!newStretch.value) return
  const name = `Part ${props.parts.length + 1}`
  const parts = withOwnPart(props.parts, newStretch.value, name)
  change(
    parts,
    parts.findIndex(part => part.name === name),
  )
}

/** What happened to the passes of a deleted part. */
const told = ref('')
function join() {
  const [part, next] = [props.parts[chosen.value]!, props.parts[chosen.value + 1]!]
  change(mergeWithNext(props.parts, chosen.value))
  told.value = goneText(next.name, part.name)
}
function remove() {
  const { name } = props.parts[chosen.value]!
  change(props.parts.filter((_, index) => index !== chosen.value))
  told.value = goneText(name)
}

const propose = () => change(keepKnown(props.parts, proposeParts(props.arrangement, bars.value)), 0)
/** A part of a section without the section's name, which stands above it. */
const shortName = (part: WorkPart): string =>
  part.section !== undefined && part.name.startsWith(`${part.section}, `)
    ? part.name.slice(part.section.length + 2)
    : part.name
const sectionPlace = (run: (typeof runs.value)[number]): string =>
  describeStretch(props.arrangement, { from: run.parts[0]!.part.from, to: run.parts.at(-1)!.part.to })
</script>

<template>
  <section aria-labelledby="parts-heading">
    <h2 id="parts-heading">Parts</h2>
    <div class="sections" tabindex="0" role="group" aria-labelledby="parts-heading">
      <ol :role="hasSections ? undefined : 'presentation'">
        <li v-for="(run, place) in runs" :key="run.first" :role="hasSections ? undefined : 'presentation'">
          <button
            v-if="hasSections"
            type="button"
            class="section"
            :aria-expanded="isOpen(place)"
            @click="toggle(place)"
          >
            <UIcon :name="isOpen(place) ? 'i-lucide-chevron-down' : 'i-lucide-chevron-right'" />
            <b>{{ run.name ?? 'No section' }}</b>
            <span class="place"
              >{{ sectionPlace(run)
              }}<template v-if="!isOpen(place) && run.count > 1">, {{ run.count }} parts</template></span
            >
          </button>
          <ol v-if="isOpen(place)">
            <li
              v-for="{ part, index } in run.parts"
              :key="part.id ?? `${index}`"
              class="part"
              :class="{ chosen: index === chosen }"
            >
              <TextField
                v-if="index === chosen"
                label="Name of the part"
                :model-value="part.name"
                maxlength="120"
                layout="unseen"
                @change="rename(index, $event)"
              />
              <button v-else type="button" :aria-label="part.name" @click="chosen = index">
                {{ shortName(part) }}
              </button>
              <span class="place">{{ describeStretch(arrangement, part) }}</span>
            </li>
          </ol>
        </li>
      </ol>
    </div>
    <div class="acts">
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-arrow-up"
        aria-label="Move earlier"
        :disabled="chosen === 0"
        @click="move(-1)"
      />
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-arrow-down"
        aria-label="Move later"
        :disabled="chosen === parts.length - 1"
        @click="move(1)"
      />
      <UButton size="sm" variant="outline" icon="i-lucide-scissors" @click="cut"> Cut </UButton>
      <UButton size="sm" variant="outline" icon="i-lucide-merge" :disabled="chosen === parts.length - 1" @click="join">
        Join with next
      </UButton>
      <Tip
        :text="
          newStretch
            ? `A part of ${describeStretch(arrangement, newStretch)}`
            : 'Select notes in the music first (Shift selects several)'
        "
        ><UButton size="sm" variant="outline" icon="i-lucide-plus" :disabled="!newStretch" @click="add">
          New
        </UButton></Tip
      >
      <UButton size="sm" variant="outline" icon="i-lucide-trash-2" :disabled="parts.length === 1" @click="remove">
        Remove
      </UButton>
    </div>
    <p v-if="told" role="status" class="told">
      {{ told }}
    </p>
    <div class="acts fields">
      <TextField
        label="Section"
        :model-value="parts[chosen]?.section ?? ''"
        maxlength="120"
        placeholder="none"
        @change="nameSection"
      />
      <UButton size="sm" variant="outline" :disabled="chosen === 0" @click="sectionHere">
        {{ isFirstInSection && chosen > 0 ? 'Join the previous section' : 'Start a section here' }}
      </UButton>
    </div>
    <div class="acts fields">
      <ChoiceField
        v-model="bars"
        label="Bars in a part"
        :choices="[
          { value: 2, label: '2' },
          { value: 4, label: '4' },
          { value: 8, label: '8' },
        ]"
      />
      <UButton size="sm" variant="soft" @click="propose"> Propose </UButton>
    </div>
  </section>
</template>

<style scoped>
h2 {
  font-weight: 700;
  font-size: 1.15rem;
  margin-bottom: var(--step);
}
.sections {
  max-height: max(22rem, calc(100vh - 24rem));
  overflow-y: auto;
}
.sections ol {
  display: grid;
  gap: 2px;
}
.section {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 0 0.4rem;
  width: 100%;
  min-height: 2rem;
  text-align: left;
}
.section .place {
  margin-left: auto;
}
.part {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  align-items: baseline;
  gap: 0 var(--step);
  padding: 0.15rem calc(1.5 * var(--step));
  border-left: 3px solid var(--rule);
}
.part.chosen {
  background: var(--sheet);
  border-color: var(--together);
  padding-block: 0.4rem;
}
.part button {
  font-weight: 600;
  text-align: left;
  min-height: 1.75rem;
  flex: 1;
}
.place,
.told {
  color: var(--ink-soft);
  font-size: 0.9rem;
}
.told {
  margin-top: var(--step);
}
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 0.375rem;
  align-items: end;
  margin-top: calc(1.5 * var(--step));
}
</style>
