<script setup lang="ts">
/** The keys of the Stand, and what its words mean, over it. */
const open = defineModel<boolean>('open', { required: true })
const GROUPS: { name: string, keys: [string[], string][] }[] = [
  { name: 'Play', keys: [[['Space'], 'start and stop'], [['Enter'], 'again from the beginning'], [['Esc'], 'stop'], [['F8'], 'next, where the coach points'], [['F9'], 'let the coach lead'], [['F7'], 'own time, click or free'], [['F2'], 'metronome'], [['Home'], 'hear it'], [['End'], 'hear yourself'], [['Shift', 'F2'], 'sound and what plays along']] },
  { name: 'Tempo', keys: [[['↑', '↓'], 'by four'], [['+', '−'], 'by one'], [['Page ↑', 'Page ↓'], 'double and half'], [['F3'], 'tap it']] },
  { name: 'Hands and bars', keys: [[['←', '→'], 'left, together, right'], [['[', ']'], 'begin and end at the bar that is played'], [['Shift', '←', '→'], 'move the bars'], [['Shift', '↑', '↓'], 'one bar more, one less'], [['Alt', 'Shift', '←', '→'], 'the end by a beat'], [['Backspace'], 'back to what was played before'], [['Shift', 'F8'], 'a drill from these bars'], [['F1'], 'how often']] },
  { name: 'Look', keys: [[['F4'], 'keys on the screen'], [['F6'], 'review the last pass'], [['F10'], 'the whole song on the page'], [['F'], 'full screen'], [['?'], 'these keys']] },
]
</script>

<template>
  <UModal
    v-model:open="open"
    title="Keys and words of the Stand"
    description="They work whatever was clicked. Piano keys and pedals can be given to the most important ones in Settings."
  >
    <template #body>
      <div class="keys">
        <section
          v-for="group in GROUPS"
          :key="group.name"
        >
          <h3>{{ group.name }}</h3>
          <dl>
            <div
              v-for="[keys, does] in group.keys"
              :key="does"
            >
              <dt>
                <kbd
                  v-for="key in keys"
                  :key="key"
                >{{ key }}</kbd>
              </dt>
              <dd>{{ does }}</dd>
            </div>
          </dl>
        </section>
        <section>
          <h3>Words</h3>
          <WordsHelp />
        </section>
      </div>
    </template>
  </UModal>
</template>

<style scoped>
.keys { display: grid; gap: calc(2 * var(--step)); }
h3 { font-weight: 700; }
dl:not(.words) div { display: grid; grid-template-columns: 11rem 1fr; gap: var(--step); padding: 0.15rem 0; }
dt { display: flex; gap: 0.25rem; }
kbd { font: inherit; font-size: 0.9em; border: 1px solid currentColor; border-radius: 0.25rem; padding: 0 0.4em; }
</style>
