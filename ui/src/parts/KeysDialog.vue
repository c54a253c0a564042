<script setup lang="ts">
/** The keys of the place. */
import Dialog from 'primevue/dialog'
import { computed, useId } from 'vue'
import ToggleSwitch from 'primevue/toggleswitch'

import { useLetterKeys } from '../composables/useLetterKeys'

const visible = defineModel<boolean>('visible', { required: true })
const props = defineProps<{ place: string }>()

const letters = useLetterKeys()
const id = useId()

const everywhere: [string, string][] = [
  ['D', 'take the sticks in hand; Escape lets go'],
  ['W A S D, arrows', 'left and right stick, while they are in hand'],
  ['1 … 9, with Shift', 'switches: next position, or the one before; a sprung one while the key is held'],
  [', and .', 'the first slider'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['?', 'this list'],
]
const own: Record<string, [string, string][]> = {
  functions: [
    ['Enter on a function', 'open it; Escape folds it'],
    ['Alt with arrows up and down', 'move the function among the others'],
    ['Enter in a field', 'keep what was typed'],
    ['arrows up and down in a field', 'try a little more or less'],
    ['Escape in a field', 'put it back'],
    ['Home', 'put the model on the stage back'],
  ],
  stage: [['Home', 'put the model back where it was at first']],
  log: [['Ctrl Enter', 'keep the text as one revision']],
  yard: [
    ['Tab, Enter', 'go to a model, open it'],
    ['/', 'search'],
    ['Ctrl Z', 'put back what was removed last'],
    ['?', 'this list'],
  ],
}
const keys = computed(() =>
  props.place === 'yard' ? own.yard : [...(own[props.place] ?? []), ...everywhere],
)
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Keys" :style="{ width: 'min(640px, 94vw)' }">
    <table>
      <tbody>
        <tr v-for="[key, what] in keys" :key="key">
          <th scope="row">{{ key }}</th>
          <td>{{ what }}</td>
        </tr>
      </tbody>
    </table>
    <p class="letters">
      <ToggleSwitch v-model="letters" :input-id="id" />
      <label :for="id"
        >Single letters and signs (D, /, ?) are keys. Turn this off if you speak to the computer.</label
      >
    </p>
    <p class="label"><a href="/licences.txt" target="_blank" rel="noopener">Licences of the fonts</a></p>
  </Dialog>
</template>

<style scoped>
.letters {
  display: flex;
  align-items: center;
  gap: 12px;
  margin-top: 14px;
}

th {
  text-align: left;
  padding: 6px 20px 6px 0;
  white-space: nowrap;
}
</style>
