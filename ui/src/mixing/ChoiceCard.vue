<script setup lang="ts">
/** One of a few ways to choose from, in words. */
defineProps<{
  group: string
  value: string
  words: string
  more: string
  chosen: boolean
  disabled?: boolean
  /** A line of a list, without a frame. */
  plain?: boolean
}>()
defineEmits<{ choose: [] }>()
</script>

<template>
  <label class="way" :class="{ chosen, plain }">
    <input
      type="radio"
      :name="group"
      :value="value"
      :checked="chosen"
      :disabled="disabled"
      @change="$emit('choose')"
    />
    <span
      ><strong>{{ words }}</strong
      ><span class="label">{{ more }}</span></span
    >
  </label>
</template>

<style scoped>
.way {
  display: flex;
  gap: 10px;
  align-items: center;
  min-height: 54px;
  padding: 4px 10px;
  border: 1.5px solid var(--rule);
  border-radius: 4px;
  cursor: pointer;
}

.way.plain {
  padding: 4px 0;
  border-width: 0 0 1px;
  border-color: var(--rule);
  border-radius: 0;
  line-height: 1.2;
}

.way.chosen:not(.plain) {
  border-color: var(--ink);
  background: var(--sheet);
}

.label {
  display: block;
}

input {
  width: 20px;
  height: 20px;
  accent-color: var(--petrol);
  flex: none;
}
</style>
