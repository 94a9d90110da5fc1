<script setup lang="ts">
import { plural } from '#core/words/amounts'

useHead({ title: 'Licences · Half Step' })
const { works, packages, others } = await import('~/assets/licences.json')
</script>

<template>
  <div class="licences">
    <h1>What is shipped of others</h1>
    <p>
      Half Step stands on the work of many people. Here is who made what, and under which licence it may be passed on.
      <a href="/licences.txt">The texts of the licences</a>
    </p>
    <section aria-labelledby="works">
      <h2 id="works">Recordings, engraver, typefaces, icons</h2>
      <dl>
        <div v-for="work in works" :key="work.name">
          <dt>
            <a :href="work.url">{{ work.name }}</a>
          </dt>
          <dd>{{ work.maker }}: {{ work.what }}. Licence: {{ work.licence }}. Changed: {{ work.changes }}.</dd>
        </div>
      </dl>
    </section>
    <section aria-labelledby="libraries">
      <h2 id="libraries">Libraries</h2>
      <div class="wide" tabindex="0" role="region" aria-labelledby="libraries">
        <table>
          <thead>
            <tr>
              <th scope="col">Package</th>
              <th scope="col">Licence</th>
              <th scope="col">Made by</th>
            </tr>
          </thead>
          <tbody>
            <tr v-for="one in packages" :key="one.name">
              <th scope="row">
                <a :href="one.url">{{ one.name }}</a>
              </th>
              <td>{{ one.licence }}</td>
              <td>{{ one.maker }}</td>
            </tr>
          </tbody>
        </table>
      </div>
    </section>
    <section aria-labelledby="others">
      <h2 id="others">What these bring along</h2>
      <details v-for="{ licence, names } in others" :key="licence">
        <summary>{{ licence }}: {{ plural(names.length, 'package') }}</summary>
        <p>{{ names.join(', ') }}</p>
      </details>
    </section>
  </div>
</template>

<style scoped>
.licences {
  max-width: 60rem;
  margin: 0 auto;
  padding: calc(4 * var(--step)) calc(3 * var(--step));
  display: grid;
  gap: calc(4 * var(--step));
}
h1 {
  font-size: 2.25rem;
}
h2 {
  font-size: 1.375rem;
  margin-bottom: var(--step);
}
a {
  text-decoration: underline;
}
dl {
  display: grid;
  gap: calc(2 * var(--step));
}
dt {
  font-weight: 600;
}
.wide {
  overflow-x: auto;
}
table {
  border-collapse: collapse;
  width: 100%;
}
th,
td {
  text-align: start;
  padding: var(--step) calc(2 * var(--step)) var(--step) 0;
  border-bottom: 1px solid var(--rule);
  font-weight: 400;
}
summary {
  padding: var(--step) 0;
  min-height: 44px;
  cursor: pointer;
}
details p {
  overflow-wrap: anywhere;
}
</style>
