<script setup lang="ts">
import { bytesText } from '#core/words/archive'

interface Kept {
  songs: number
  drills: number
  revisions: number
  passes: number
  takeBytes: number
  days: number
  patterns: number
  sessions: number
}
/** What is kept of the player, how much, and where. */
defineProps<{ kept: Kept }>()
const inBrowser = ref<number>()
onMounted(async () => {
  inBrowser.value = (await navigator.storage?.estimate?.().catch(() => undefined))?.usage
})
</script>

<template>
  <section aria-labelledby="kept">
    <h2 id="kept">What is kept, and where</h2>
    <div class="ledger">
      <table>
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">How much</th>
            <th scope="col">Where</th>
          </tr>
        </thead>
        <tbody>
          <tr>
            <td>Songs and drills, with their notes, parts and fingers</td>
            <td>{{ kept.songs }} and {{ kept.drills }}, {{ kept.revisions }} revisions</td>
            <td>the server's database</td>
          </tr>
          <tr>
            <td>Passes: when, what, how well, and every key of them</td>
            <td>{{ kept.passes }}; the keys are {{ bytesText(kept.takeBytes) }}</td>
            <td>the server's database</td>
          </tr>
          <tr>
            <td>Days with your own words, and what you skipped</td>
            <td>{{ kept.days }}</td>
            <td>the server's database</td>
          </tr>
          <tr>
            <td>Patterns of your own; settings; delays of keyboards</td>
            <td>{{ kept.patterns }} patterns</td>
            <td>the server's database</td>
          </tr>
          <tr>
            <td>Your name, and a hash of your password if you have one</td>
            <td>signed in in {{ kept.sessions }} {{ kept.sessions === 1 ? 'place' : 'places' }}</td>
            <td>the server's database</td>
          </tr>
          <tr>
            <td>
              Passes that were not sent yet, what pages showed last (for when the server is away), your own recordings,
              the last ten minutes by the way
            </td>
            <td>
              <ClientOnly>{{
                inBrowser === undefined
                  ? 'this browser does not say'
                  : `about ${bytesText(inBrowser)}, sounds and pages among it`
              }}</ClientOnly>
            </td>
            <td>this browser only</td>
          </tr>
        </tbody>
      </table>
    </div>
    <p class="soft">
      Nothing goes anywhere else. The server is the computer that Half Step runs on; it keeps addresses of failed
      sign-ins for an hour, and no log of what you do.
    </p>
  </section>
</template>
