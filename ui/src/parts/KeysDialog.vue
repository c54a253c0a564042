<script setup lang="ts">
/** The keys of the place. */
import Dialog from 'primevue/dialog'

const visible = defineModel<boolean>('visible', { required: true })

const keys = [
  ['D', 'take the deck in hand; Escape lets go'],
  ['W A S D, arrows', 'left and right stick, while the deck is in hand'],
  ['1 … 9, with Shift', 'switches: next position, or the one before; a sprung one while the key is held'],
  [', and .', 'the first slider'],
  ['Enter', 'keep what was typed in a field'],
  ['arrows up and down', 'in a field: try a little more or less'],
  ['Escape', 'in a field: put it back; in an open line: fold it'],
  ['Ctrl Z, Ctrl Shift Z', 'undo, redo'],
  ['?', 'this list'],
]
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
  </Dialog>
</template>

<style scoped>
th {
  text-align: left;
  padding: 6px 20px 6px 0;
  white-space: nowrap;
}
</style>
