<script setup lang="ts">
/** Yard: all models; open, bring in, take out. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import { computed, onMounted, shallowRef, useTemplateRef } from 'vue'

import { api, origin, unreachable, type Model, type Problem } from '../api/client'

const models = shallowRef<Model[]>()
const problem = shallowRef<Problem>()
const brought = shallowRef('')
const refusal = shallowRef<{ file: string; problem: Problem }>()
const refusalShown = computed({
  get: () => refusal.value !== undefined,
  set: (shown) => {
    if (!shown) refusal.value = undefined
  },
})
const file = useTemplateRef<HTMLInputElement>('file')

async function load() {
  try {
    const answer = await api.GET('/api/models')
    models.value = answer.data ?? models.value
    problem.value = answer.error
  } catch {
    problem.value = unreachable
  }
}
onMounted(() => {
  document.title = 'Axtren'
  void load()
})

/** Sends the bytes of a file as they are: the server reads them, and says what is wrong with them. */
async function bring(chosen: File) {
  brought.value = ''
  const format = chosen.name.endsWith('.json') ? 'json' : 'yaml'
  try {
    const answer = await api.POST('/api/models', {
      params: { header: origin(), query: { format } },
      body: chosen as never,
      bodySerializer: (body) => body as never,
      headers: { 'Content-Type': 'application/octet-stream' },
    })
    if (answer.error) refusal.value = { file: chosen.name, problem: answer.error }
    else brought.value = `${answer.data.name || chosen.name} is in the yard`
  } catch {
    refusal.value = { file: chosen.name, problem: unreachable }
  }
  await load()
}

async function chosen() {
  for (const one of file.value?.files ?? []) await bring(one)
  if (file.value) file.value.value = ''
}

function when(model: Model): string {
  return new Date(model.changed_at).toLocaleDateString(undefined, {
    day: 'numeric',
    month: 'long',
    year: 'numeric',
  })
}
</script>

<template>
  <div class="yard">
    <header class="head">
      <h1>Axtren</h1>
      <span class="soft">the yard, where all models stand</span>
      <span class="label state" role="status">{{ brought }}</span>
      <Button class="quiet" @click="file?.click()">Bring in a file</Button>
      <input
        ref="file"
        class="unseen"
        type="file"
        accept=".yaml,.yml,.json"
        aria-label="File to bring in"
        tabindex="-1"
        @change="chosen"
      />
    </header>
    <main>
      <p v-if="problem" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
      <p v-if="models?.length === 0" class="empty">
        No model yet. Bring one in from a file: a setup in YAML or JSON, as this yard gives them out too.
      </p>
      <ul v-else-if="models">
        <li v-for="model in models" :key="model.id">
          <div>
            <h2>
              <RouterLink :to="{ name: 'lines', params: { id: model.id } }">{{
                model.name || 'a model without a name'
              }}</RouterLink>
            </h2>
            <p class="soft">{{ model.about }}</p>
          </div>
          <div>
            <p>
              {{ model.lines }} lines<template v-if="model.undriven"
                >, {{ model.undriven }} that nothing drives</template
              >
            </p>
            <p v-if="model.unplayed.length" class="label">
              not worked out yet: {{ model.unplayed.join(', ') }}
            </p>
          </div>
          <p class="label">revision {{ model.revision }}<br />{{ when(model) }}</p>
          <p class="acts">
            <RouterLink
              class="act"
              :to="{ name: 'lines', params: { id: model.id } }"
              :aria-label="`Open ${model.name}`"
              >Open</RouterLink
            >
            <a
              class="act"
              :href="`/api/models/${model.id}/export?format=yaml`"
              download
              :aria-label="`${model.name} as YAML`"
              >As YAML</a
            >
            <a
              class="act"
              :href="`/api/models/${model.id}/export?format=json`"
              download
              :aria-label="`${model.name} as JSON`"
              >As JSON</a
            >
          </p>
        </li>
      </ul>
      <p v-else-if="!problem" class="soft">Opening the yard.</p>
    </main>
    <Dialog
      v-model:visible="refusalShown"
      modal
      :header="`${refusal?.file} was not brought in`"
      :style="{ width: 'min(760px, 94vw)' }"
    >
      <template v-if="refusal">
        <p>{{ refusal.problem.title }}. The yard is as it was.</p>
        <ul v-if="refusal.problem.errors" class="faults">
          <li v-for="(fault, i) in refusal.problem.errors" :key="i">
            <strong>{{
              [fault.line ? `line ${fault.line}` : '', fault.path].filter(Boolean).join(', ') ||
              'the whole file'
            }}</strong>
            {{ fault.message }}<template v-if="fault.value">, it is {{ fault.value }}</template
            >.
            <span class="soft">{{ fault.remedy }}</span>
          </li>
        </ul>
        <p v-else>{{ refusal.problem.detail }}</p>
      </template>
    </Dialog>
  </div>
</template>

<style scoped>
.head {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 6px 18px;
  min-height: 52px;
  padding: 4px 22px;
  border-bottom: 1.5px solid var(--ink);
}

h1 {
  font-size: 22px;
}

.state {
  margin-left: auto;
}

main {
  max-width: 1100px;
  padding: 16px 22px;
}

main > ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

main > ul > li {
  display: grid;
  grid-template-columns: 260px minmax(0, 1fr) 160px auto;
  gap: 6px 18px;
  align-items: center;
  padding: 12px 0;
  border-bottom: 1px solid var(--rule);
}

h2 {
  font-size: 20px;
}

h2 a {
  color: var(--ink);
}

.acts {
  display: flex;
  gap: 8px;
}

.act {
  display: inline-grid;
  place-items: center;
  min-height: 40px;
  padding: 0 12px;
  border: 1px solid var(--ink);
  border-radius: 4px;
  background: var(--sheet);
  color: var(--ink);
  text-decoration: none;
}

.faults {
  padding-left: 20px;
}

.faults li {
  margin: 8px 0;
  overflow-wrap: anywhere;
}

.empty {
  padding: 30px 0;
}

@media (max-width: 760px) {
  main > ul > li {
    grid-template-columns: minmax(0, 1fr);
  }

  main {
    padding: 8px 14px;
  }
}
</style>
