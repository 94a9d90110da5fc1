<script setup lang="ts">
import { arrangementEnd, type Arrangement } from '#core/music/arrangement'
import { describeStretch } from '#core/words/places'
import { compare } from '#core/music/quarters'
import { beatNear, cutPart, mergeWithNext, reorder, type PartDraft } from '#core/parts/edit'
import { proposeParts } from '#core/parts/propose'
import type { WorkPart } from '~/composables/useWorkbench'

/** The parts in their order: chosen, named, moved, cut, merged, proposed anew. */
const props = defineProps<{ arrangement: Arrangement, parts: readonly WorkPart[] }>()
const emit = defineEmits<{ change: [parts: PartDraft[]] }>()
const chosen = defineModel<number>('chosen', { required: true })
const bars = ref(4)

function change(parts: PartDraft[], next = chosen.value) {
  emit('change', parts)
  chosen.value = Math.max(0, Math.min(parts.length - 1, next))
}

function rename(index: number, event: Event) {
  const name = (event.target as HTMLInputElement).value.trim()
  if (name !== '' && name !== props.parts[index]!.name) change(props.parts.map((part, place) => place === index ? { ...part, name } : part))
}

function move(by: number) {
  const to = chosen.value + by
  if (to >= 0 && to < props.parts.length) change(reorder(props.parts, chosen.value, to), to)
}

/** In the middle, on the nearest bar line or beat. */
function cut() {
  const { from, to } = props.parts[chosen.value]!
  const lines = props.arrangement.bars.map(bar => bar.start).filter(at => compare(at, from) > 0 && compare(at, to) < 0)
  const middle = { n: from.n * to.d + to.n * from.d, d: 2 * from.d * to.d }
  const near = lines.sort((a, b) => Math.abs(compare(a, middle) / a.d / middle.d) - Math.abs(compare(b, middle) / b.d / middle.d))[0]
  change(cutPart(props.parts, chosen.value, near ?? beatNear(props.arrangement, middle)))
}

function add() {
  const last = props.parts.reduce((latest, part) => compare(part.to, latest) > 0 ? part.to : latest, props.parts[0]!.to)
  const end = arrangementEnd(props.arrangement)
  const from = compare(last, end) < 0 ? last : props.arrangement.bars.at(-1)!.start
  change([...props.parts, { name: `Part ${props.parts.length + 1}`, from, to: end }], props.parts.length)
}

/** New proposals keep the id, and so the passes, of a part with the same edges. */
function propose() {
  const same = (a: PartDraft, b: PartDraft) => compare(a.from, b.from) === 0 && compare(a.to, b.to) === 0
  change(proposeParts(props.arrangement, bars.value).map(part => props.parts.find(one => same(one, part)) ?? part), 0)
}
</script>

<template>
  <section aria-labelledby="parts-heading">
    <h2 id="parts-heading">
      Parts
    </h2>
    <ol>
      <li
        v-for="(part, index) in parts"
        :key="part.id ?? `${index}`"
        :class="{ chosen: index === chosen }"
      >
        <input
          v-if="index === chosen"
          :value="part.name"
          maxlength="120"
          aria-label="Name of the part"
          @change="rename(index, $event)"
        >
        <button
          v-else
          type="button"
          @click="chosen = index"
        >
          {{ part.name }}
        </button>
        <span class="place">{{ describeStretch(arrangement, part) }}</span>
      </li>
    </ol>
    <div class="acts">
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-arrow-up"
        aria-label="Earlier in the order"
        :disabled="chosen === 0"
        @click="move(-1)"
      />
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-arrow-down"
        aria-label="Later in the order"
        :disabled="chosen === parts.length - 1"
        @click="move(1)"
      />
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-scissors"
        @click="cut"
      >
        Cut
      </UButton>
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-merge"
        :disabled="chosen === parts.length - 1"
        @click="change(mergeWithNext(parts, chosen))"
      >
        Join with next
      </UButton>
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-plus"
        @click="add"
      >
        New
      </UButton>
      <UButton
        size="sm"
        variant="outline"
        icon="i-lucide-trash-2"
        :disabled="parts.length === 1"
        @click="change(parts.filter((_, index) => index !== chosen))"
      >
        Take out
      </UButton>
    </div>
    <div class="acts fields">
      <label>Split anew into <select v-model.number="bars"><option :value="2">2</option><option :value="4">4</option><option :value="8">8</option></select> bars</label>
      <UButton
        size="sm"
        variant="soft"
        @click="propose"
      >
        Propose
      </UButton>
    </div>
  </section>
</template>

<style scoped>
h2 { font-weight: 700; font-size: 1.15rem; margin-bottom: var(--step); }
ol { display: grid; gap: 2px; max-height: 24rem; overflow-y: auto; }
li { padding: 0.4rem calc(1.5 * var(--step)); border-left: 3px solid var(--rule); }
li.chosen { background: var(--sheet); border-color: var(--together); }
li button { font-weight: 600; text-align: left; min-height: 1.75rem; }
li input { width: 100%; font-weight: 600; background: transparent; border-bottom: 1px solid var(--rule); }
.place { display: block; color: var(--ink-soft); font-size: 0.9rem; }
.acts { display: flex; flex-wrap: wrap; gap: 0.375rem; align-items: center; margin-top: calc(1.5 * var(--step)); }
</style>
