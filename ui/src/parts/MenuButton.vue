<script setup lang="ts">
/** A button that opens a list of things to do, each done by choosing it. */
import Button from 'primevue/button'
import Menu from 'primevue/menu'
import { computed, useTemplateRef } from 'vue'

defineOptions({ inheritAttrs: false })
const props = defineProps<{ items: { key: string; name: string }[]; label?: string }>()
const emit = defineEmits<{ choose: [key: string] }>()
const menu = useTemplateRef<InstanceType<typeof Menu>>('menu')
const model = computed(() =>
  props.items.map((item) => ({ label: item.name, command: () => emit('choose', item.key) })),
)
</script>

<template>
  <Button v-bind="$attrs" class="quiet" aria-haspopup="true" :aria-label="label" @click="menu?.toggle($event)"
    ><slot
  /></Button>
  <Menu ref="menu" :model="model" popup :aria-label="label" />
</template>
