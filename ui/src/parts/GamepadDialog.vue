<script setup lang="ts">
/** What on the gamepad moves which control: chosen by moving it. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { watch } from 'vue'

import type { Control } from '../api/client'
import type { Mapping } from '../composables/useGamepad'

const visible = defineModel<boolean>('visible', { required: true })
const learning = defineModel<string | undefined>('learning', { required: true })
watch(visible, (shown) => {
  if (!shown) learning.value = undefined // what moves after the dialog is no choice
})
defineProps<{ controls: Control[]; mapping: Mapping; pad: string }>()

function words(mapping: Mapping, id: string): string {
  const at = mapping[id]
  if (at?.axis !== undefined) return `axis ${at.axis + 1}${at.turned ? ', reversed' : ''}`
  if (at?.button !== undefined) return `button ${at.button + 1}`
  return 'nothing'
}
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Gamepad" :style="{ width: 'min(620px, 94vw)' }">
    <p class="label">{{ pad }}. What is chosen is kept with this transmitter.</p>
    <table>
      <tbody>
        <tr v-for="control in controls" :key="control.id">
          <th scope="row">{{ control.label }}</th>
          <td>{{ words(mapping, control.id) }}</td>
          <td>
            <Button class="quiet" @click="learning = learning === control.id ? undefined : control.id">{{
              learning === control.id
                ? control.kind === 'axis'
                  ? 'Move it the way of +…'
                  : 'Press it…'
                : 'Choose by moving'
            }}</Button>
          </td>
        </tr>
      </tbody>
    </table>
  </Dialog>
</template>

<style scoped>
table {
  width: 100%;
}

th {
  text-align: left;
  font-weight: 400;
}
</style>
