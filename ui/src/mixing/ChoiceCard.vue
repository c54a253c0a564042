<script setup lang="ts">
/** One of a few ways to choose from, in words. */
defineProps<{
  group: string
  value: string
  words: string
  more: string
  chosen: boolean
  disabled?: boolean
}>()
defineEmits<{ choose: [] }>()
</script>

<template>
  <label class="way" :class="{ chosen }">
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
  padding: 4px 12px;
  border: 1.5px solid var(--rule);
  border-radius: 4px;
  cursor: pointer;
}

.way.chosen {
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
