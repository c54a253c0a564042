<script setup lang="ts">
/** A condition, chosen by moving it or from a list; it can be turned round. */
import Button from 'primevue/button'
import Select from 'primevue/select'
import { shallowRef, useId } from 'vue'

import MovePrompt from '../parts/MovePrompt.vue'
import { useBench } from '../stores/bench'
import { condition, opposite, type Choice } from './places'

const props = defineProps<{ label: string; value: string; choices: Choice[]; optional?: boolean }>()
const emit = defineEmits<{ change: [value: string] }>()
const bench = useBench()
const id = useId()
const moving = shallowRef(!props.value)

function moved([what = '']: string[]) {
  moving.value = false
  emit('change', condition(what, bench.hands[what]))
}
</script>

<template>
  <div class="condition">
    <p class="acts">
      <label :for="id" class="unseen">{{ label }}</label>
      <Select
        :input-id="id"
        :model-value="value"
        :options="choices"
        option-label="label"
        option-value="value"
        filter
        filter-placeholder="find"
        :placeholder="
          value && !choices.some((one) => one.value === value) ? 'a lever beyond a place' : 'choose it'
        "
        @update:model-value="emit('change', $event)"
      />
      <Button class="quiet" @click="moving = !moving">Choose by moving it</Button>
      <Button v-if="value" class="quiet" @click="emit('change', opposite(value))">The other way round</Button>
      <Button v-if="value && optional" class="quiet" @click="emit('change', '')">Leave it out</Button>
    </p>
    <MovePrompt v-if="moving" :asks="[`${label}: move it now.`]" @moved="moved" @cancel="moving = false" />
  </div>
</template>

<style scoped>
.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}
</style>
