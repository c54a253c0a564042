<script setup lang="ts">
/** A model in the list: a small picture, its name, the worst that stands before the water, what to do. */
import { useIntersectionObserver } from '@vueuse/core'
import { computed, nextTick, shallowRef, useTemplateRef, watch } from 'vue'

import { useRouter } from 'vue-router'

import { api, type Model, type Still } from '../api/client'
import { moment } from '../moments'
import StagePicture from '../stage/StagePicture.vue'
import MenuButton from './MenuButton.vue'

const props = defineProps<{
  model: Model
  /** It was just begun, and is given its name first. */
  fresh?: boolean
  /** There is little width: what is rarer is behind the button. */
  compact?: boolean
}>()
const emit = defineEmits<{ rename: [name: string]; copy: []; remove: [] }>()

/** The picture is asked for once the row comes into sight, and again when the model has changed. */
const row = useTemplateRef('row')
const seen = shallowRef(false)
useIntersectionObserver(row, ([entry]) => {
  if (entry?.isIntersecting) seen.value = true
})
const still = shallowRef<Still>()
watch([() => seen.value, () => props.model.revision], async ([now]) => {
  if (!now || props.model.broken) return
  const path = { id: props.model.id }
  still.value = (await api.GET('/api/models/{id}/still', { params: { path } }).catch(() => undefined))?.data
})

const name = computed(() => props.model.name || 'a model without a name')
const stands = computed(() => props.model.stands ?? [])
const worst = computed(() => stands.value[0])
const rest = computed(() => stands.value.slice(1))

const renaming = shallowRef(false)
const newName = shallowRef('')
const field = useTemplateRef<HTMLInputElement>('field')

async function startNaming() {
  newName.value = props.model.name
  renaming.value = true
  await nextTick()
  field.value?.select()
}
watch(
  () => props.fresh,
  (fresh) => fresh && startNaming(),
  { immediate: true },
)

const opens = useTemplateRef<{ $el: HTMLElement }>('opens')
async function keepName(focus: boolean) {
  if (!renaming.value) return
  renaming.value = false
  const wanted = newName.value.trim()
  if (wanted && wanted !== props.model.name) emit('rename', wanted)
  await nextTick()
  if (focus) opens.value?.$el.focus()
}
async function leaveName() {
  newName.value = props.model.name
  await keepName(true)
}

const router = useRouter()
const troubles = computed(() => ({
  name: 'functions',
  params: { id: props.model.id },
  query: { trouble: '' },
}))

const more = computed(() => [
  ...(props.model.broken
    ? []
    : [
        ...(props.compact ? [{ key: 'wrong', name: 'Something is wrong' }] : []),
        { key: 'rename', name: 'Rename' },
        { key: 'copy', name: 'Copy' },
        { key: 'yaml', name: 'Export as YAML' },
        { key: 'json', name: 'Export as JSON' },
      ]),
  { key: 'remove', name: 'Remove' },
])

function choose(key: string) {
  if (key === 'rename') void startNaming()
  else if (key === 'copy') emit('copy')
  else if (key === 'remove') emit('remove')
  else if (key === 'wrong') void router.push(troubles.value)
  else location.assign(`/api/models/${props.model.id}/export?format=${key}`)
}
</script>

<template>
  <li ref="row" :data-model="model.name" :data-key="model.id">
    <div class="still">
      <StagePicture v-if="still" still :picture="still.picture" :values="still.values" :at="0" :words="''" />
    </div>
    <div class="who">
      <input
        v-if="renaming"
        ref="field"
        v-model="newName"
        class="box name"
        :aria-label="`New name of ${model.name}`"
        @keydown.enter.prevent="keepName(true)"
        @keydown.escape.prevent="leaveName"
        @blur="keepName(false)"
      />
      <h2 v-else-if="model.broken">{{ name }}</h2>
      <h2 v-else>
        <RouterLink :to="{ name: 'functions', params: { id: model.id } }">{{ name }}</RouterLink>
      </h2>
      <p class="label">{{ model.about }}</p>
    </div>
    <p v-if="model.broken" class="stands">
      This model cannot be read by this Axtren: {{ model.broken }}. It is not lost: take it out as a file,
      mend it, and bring it in again.
    </p>
    <div v-else class="stands">
      <p v-if="worst" :class="worst.severity">
        <strong>{{ worst.place }}:</strong> {{ worst.words }}
      </p>
      <p v-else>Nothing found that wants a look</p>
      <p v-if="rest.length" class="label more">
        {{ rest.length }} more: {{ rest.map((stand) => `${stand.place}: ${stand.words}`).join('; ') }}
      </p>
    </div>
    <p class="label when">
      {{ moment(model.changed_at) }}<span class="unseen">, revision {{ model.revision }}</span>
    </p>
    <div class="acts">
      <a
        v-if="model.broken"
        class="act"
        :href="`/api/models/${model.id}/export`"
        download
        :aria-label="`Export ${model.name} as a file`"
        >Export as a file</a
      >
      <template v-else>
        <RouterLink
          ref="opens"
          class="act"
          :to="{ name: 'functions', params: { id: model.id } }"
          :aria-label="`Open ${model.name}`"
          >Open</RouterLink
        >
        <RouterLink
          v-if="!compact"
          class="link"
          :to="troubles"
          :aria-label="`Something is wrong with ${model.name}`"
          >Something is wrong</RouterLink
        >
      </template>
      <MenuButton :items="more" :label="`More for ${name}`" @choose="choose">…</MenuButton>
    </div>
  </li>
</template>

<style scoped>
li {
  display: grid;
  grid-template-columns: 92px 210px minmax(0, 1fr) 96px auto;
  gap: 4px 18px;
  align-items: center;
  min-height: 78px;
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

/* its room is there before it comes, so that no row moves away under a finger */
.still {
  min-height: 72px;
}

.still :deep(svg) {
  height: 72px;
  aspect-ratio: auto;
}

.who {
  min-width: 0;
  overflow-wrap: anywhere;
}

h2 {
  font-size: 1.25rem;
}

h2 a {
  color: var(--ink);
  text-decoration: none;
}

h2 a:hover {
  text-decoration: underline;
}

.name {
  width: 100%;
  font-weight: 700;
  font-size: 1.125rem;
}

.error strong {
  color: var(--danger);
}

.more {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 1;
  overflow: hidden;
}

.acts {
  display: flex;
  align-items: center;
  gap: 14px;
  margin: 0;
}

.act {
  display: inline-grid;
  place-items: center;
  min-height: 40px;
  padding: 0 14px;
  border: 1.5px solid var(--ink);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
  text-decoration: none;
}

@media (max-width: 1020px) {
  li {
    grid-template-columns: 84px minmax(0, 1fr) auto;
  }

  .stands {
    grid-column: 2 / -1;
    grid-row: 2;
  }

  .when {
    display: none;
  }
}

@media (max-width: 760px) {
  li {
    grid-template-columns: 64px minmax(0, 1fr) auto;
    gap: 2px 12px;
  }

  .still {
    grid-row: span 2;
  }

  .more {
    display: none;
  }

  .stands {
    grid-column: 2 / -1;
    font-size: 1rem;
  }

  .acts {
    gap: 8px;
  }
}
</style>
