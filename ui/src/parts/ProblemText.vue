<script setup lang="ts">
/** What is against something that was wanted: each place with its value and the remedy, else what it is. */
import type { Problem } from '../api/client'

defineProps<{ problem?: Problem }>()
</script>

<template>
  <p v-if="problem" class="fault" role="alert">
    <template v-for="one in problem.errors ?? []" :key="one.path"
      >{{ one.value }} {{ one.message }}; {{ one.remedy }}.
    </template>
    <template v-if="!problem.errors?.length">{{ problem.title }}.</template>
  </p>
</template>
