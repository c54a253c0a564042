<script setup lang="ts">
/** Figures that were worked out, each with its arithmetic behind "Why?". */
import type { ToldFigure } from '../api/client'

defineProps<{ figures: ToldFigure[] }>()
</script>

<template>
  <table class="figures">
    <tbody>
      <tr v-for="figure in figures" :key="figure.title" :class="{ wrong: figure.wrong }">
        <th scope="row">{{ figure.title }}</th>
        <td>
          <span :class="{ fig: /^[+−\d.]+$/.test(figure.says) }">{{ figure.says }}</span>
          <span v-if="figure.wrong" aria-hidden="true"> ▲</span>
          <details v-if="figure.why.length">
            <summary>
              Why?<span class="unseen"> {{ figure.title }}</span>
            </summary>
            <p v-for="why in figure.why" :key="why">{{ why }}</p>
          </details>
          <p v-if="figure.note" class="soft">{{ figure.note }}</p>
        </td>
      </tr>
    </tbody>
  </table>
</template>

<style scoped>
.figures {
  width: 100%;
  margin-top: 8px;
  border-collapse: collapse;
}

th,
td {
  padding: 6px 8px 6px 0;
  border-bottom: 1px solid var(--rule);
  text-align: left;
  vertical-align: top;
  font-weight: inherit;
}

th {
  width: 44%;
}

details {
  display: inline-block;
  margin-left: 14px;
  vertical-align: top;
}

details[open] {
  display: block;
  margin-left: 0;
}

p {
  margin: 0;
}

.wrong th {
  font-weight: 700;
}
</style>
