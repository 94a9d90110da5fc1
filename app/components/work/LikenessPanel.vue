<script setup lang="ts">
import { useWording } from '~/composables/ui/useWording'
import type { Hand } from '#core/music/arrangement'
import type { Likeness } from '#core/parts/likeness'
import { sectionRuns } from '#core/parts/edit'
import { likenessText } from '#core/words/likeness'
import type { WorkPart } from '~/composables/workbench/useWorkbench'

/** What each hand of the part has to do with the parts before, and what the player says instead. */
const props = defineProps<{
  parts: readonly WorkPart[]
  chosen: number
  likeness: Record<Hand, readonly Likeness[]>
  form: readonly string[]
  share: Record<Hand, number>
}>()
const emit = defineEmits<{ say: [hand: Hand, like: string | null | undefined] }>()

const { wording } = useWording()
const sections = computed(() => sectionRuns(props.parts).flatMap(({ name }) => name ?? []))
const part = computed(() => props.parts[props.chosen]!)
const hands = computed(() =>
  (['left', 'right'] as const).map(hand => {
    const found = props.likeness[hand][props.chosen]!
    const own = part.value.ownLikeness[hand]
    return { hand, found, own, text: found.notes === 0 ? 'rests here' : likenessText(found, wording.value) || 'new' }
  }),
)
/** Only saved parts can be named: they have an id. */
const others = computed(() =>
  props.parts.flatMap(({ id, name }, index) => (index !== props.chosen && id !== undefined ? [{ id, name }] : [])),
)

function say(hand: Hand, value: string) {
  emit('say', hand, value === 'found' ? undefined : value === 'new' ? null : value)
}
</script>

<template>
  <div class="likeness fields">
    <p>
      <b>Form</b> {{ sections.length > 1 ? sections.join(' – ') : form.join(' – ') }}. New material:
      {{ Math.round(100 * share.left) }} % of the left hand’s notes, {{ Math.round(100 * share.right) }} % of the right
      hand's.
    </p>
    <ul>
      <li v-for="one in hands" :key="one.hand">
        <b :class="one.hand">{{ one.hand === 'left' ? 'Left hand' : 'Right hand' }}</b>
        <span
          >{{ one.text
          }}<template v-if="one.found.notes > 0"
            >; {{ one.found.newNotes }} of {{ one.found.notes }} notes are new</template
          ></span
        >
        <ChoiceField
          label="Say"
          :model-value="one.own === undefined ? 'found' : one.own === null ? 'new' : one.own"
          :choices="[
            { value: 'found', label: 'as found' },
            { value: 'new', label: 'it is new' },
            ...others.map(({ id, name }) => ({ value: id, label: `it is like ${name}` })),
          ]"
          @update:model-value="say(one.hand, $event)"
        />
      </li>
    </ul>
  </div>
</template>

<style scoped>
.likeness {
  display: grid;
  gap: calc(1.5 * var(--step));
}
li {
  display: grid;
  grid-template-columns: 8rem 1fr auto;
  gap: calc(2 * var(--step));
  padding: var(--step) 0;
  border-top: 1px solid var(--rule);
  align-items: baseline;
}
.right {
  color: var(--right-hand);
}
.left {
  color: var(--left-hand);
}
@media (max-width: 52rem) {
  li {
    grid-template-columns: 1fr;
  }
}
</style>
