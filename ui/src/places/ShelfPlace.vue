<script setup lang="ts">
/** The shelf: the pieces that models share, each with the models that it is in; one opens as a form. */
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import InputNumber from 'primevue/inputnumber'
import { computed, nextTick, onScopeDispose, shallowRef, watch } from 'vue'
import { useRouter } from 'vue-router'

import {
  api,
  origin,
  unreachable,
  type Patch,
  type Problem,
  type Shelf,
  type ShelfPiece,
} from '../api/client'
import { useKept } from '../composables/useKept'
import { useOnce } from '../composables/useOnce'
import { useParts } from '../composables/useParts'
import { useTheme } from '../composables/useTheme'
import ClashDialog from '../parts/ClashDialog.vue'
import ControlFinder from '../parts/ControlFinder.vue'
import MenuButton from '../parts/MenuButton.vue'
import PartForm from '../parts/PartForm.vue'
import PieceUses from '../parts/PieceUses.vue'
import { capital } from '../figures'
import { useBench } from '../stores/bench'
import { useEdits } from '../stores/edits'

const props = defineProps<{ piece?: string }>()
const bench = useBench()
const edits = useEdits()
const router = useRouter()
const { state } = useKept()
const { opened, of, kinds, add } = useParts()
const { once } = useOnce()
const { dark, turn } = useTheme()
const shelf = shallowRef<Shelf>()
const problem = shallowRef<Problem>()
const find = shallowRef('')
const newShown = shallowRef(false)
document.title = 'Your shelf · Axtren'

async function load() {
  try {
    const answer = await api.GET('/api/shelf')
    shelf.value = answer.data ?? shelf.value
    problem.value = answer.error
  } catch {
    problem.value = unreachable
  }
}

watch(
  () => props.piece,
  (piece) => {
    opened.value = undefined
    if (piece) bench.open(piece)
    else bench.close()
  },
  { immediate: true },
)
onScopeDispose(bench.close)
watch(() => bench.model?.revision, load, { immediate: true })
/** A model is opened where its places are. */
watch(
  () => bench.model,
  (now) => now && !now.shelf && router.replace({ name: 'functions', params: { id: now.id } }),
)

const groups = computed(() => {
  const words = find.value.toLowerCase()
  return (shelf.value?.kinds ?? [])
    .map((kind) => ({
      ...kind,
      pieces: (shelf.value?.pieces ?? []).filter(
        (p) =>
          p.kind === kind.kind && `${p.name} ${p.says} ${p.places} ${p.known}`.toLowerCase().includes(words),
      ),
    }))
    .filter((group) => group.pieces.length)
})

/** Of many models some are named in the list; the rest stands in what is opened. */
const few = 6

async function make(kind: string, as: string) {
  newShown.value = false
  try {
    const answer = await api.POST('/api/shelf', {
      params: { header: origin() },
      body: { kind: kind as ShelfPiece['kind'] & 'device', of: as },
    })
    problem.value = answer.error
    if (!answer.data) return
    await load()
    await router.push({ name: 'shelf', params: { piece: answer.data.id } })
  } catch {
    problem.value = unreachable
  }
}

const removed = shallowRef<ShelfPiece>()

async function change(request: () => Promise<{ error?: Problem }>): Promise<boolean> {
  try {
    const answer = await request()
    problem.value = answer.error
    await load()
    return !answer.error
  } catch {
    problem.value = unreachable
    return false
  }
}

async function remove(piece: ShelfPiece) {
  await router.push({ name: 'shelf' })
  if (await change(() => api.DELETE('/api/models/{id}', { params: { path: { id: piece.id } } }))) {
    removed.value = piece
    await nextTick()
    document.querySelector<HTMLElement>('[data-back]')?.focus()
  }
}

async function restore() {
  const piece = removed.value
  if (!piece) return
  if (await change(() => api.POST('/api/models/{id}/restore', { params: { path: { id: piece.id } } })))
    removed.value = undefined
}

function count(now: number | null) {
  const patch: Patch = [{ op: 'add', path: '/piece/count', value: now ?? 1 }]
  return edits.keep(patch)
}
</script>

<template>
  <div class="shelf">
    <header class="head ofAll">
      <RouterLink to="/">Models</RouterLink>
      <h1>Your shelf</h1>
      <span class="soft">{{ shelf?.says }}</span>
      <span class="label state" role="status">
        <template v-if="piece">{{ state }}</template>
        <template v-else-if="removed"
          >{{ removed.name }} was taken off the shelf
          <button type="button" class="link" data-back @click="once($event, restore)">
            put it back
          </button></template
        >
      </span>
      <template v-if="piece">
        <Button class="quiet" :disabled="!bench.model?.undo" :title="bench.model?.undo" @click="edits.undo()"
          >Undo</Button
        >
        <Button class="quiet" :disabled="!bench.model?.redo" :title="bench.model?.redo" @click="edits.redo"
          >Redo</Button
        >
      </template>
      <Button @click="newShown = true">New piece</Button>
      <RouterLink class="act" to="/memories">Memories</RouterLink>
      <button type="button" class="link" :aria-pressed="dark" @click="turn">
        {{ dark ? 'Light' : 'Dark' }}
      </button>
    </header>
    <main>
      <p v-if="problem" class="fault" role="alert">{{ problem.title }}: {{ problem.detail }}</p>
      <p v-if="piece && bench.missing" class="fault" role="alert">
        This piece is not on your shelf. It may have been taken off it, or the address is not whole.
      </p>
      <input
        v-if="shelf && shelf.pieces.length > 8"
        v-model="find"
        class="box"
        type="search"
        placeholder="Search"
        aria-label="Search the shelf"
      />
      <p v-if="shelf && !shelf.pieces.length" class="empty">
        <strong>Nothing is on your shelf yet.</strong> What several models share, or what lies spare in a
        drawer, stands here once: transmitters, receivers, servos, controllers. Put it here with “New piece”,
        or out of a model, in its Kit.
      </p>
      <p v-else-if="shelf && !groups.length" class="soft">No piece has these words in it.</p>
      <p v-else-if="!shelf && !problem" class="soft">Opening the shelf.</p>
      <section v-for="group in groups" :key="group.kind">
        <h2>{{ capital(group.many) }}</h2>
        <ul>
          <li v-for="one in group.pieces" :key="one.id" :data-piece="one.id">
            <div class="row">
              <div class="who">
                <RouterLink
                  class="name"
                  :to="{ name: 'shelf', params: { piece: one.id === piece ? '' : one.id } }"
                  :aria-expanded="one.id === piece"
                  role="button"
                  >{{ one.name }}</RouterLink
                >
                <span class="label"
                  >{{ one.says }}<template v-if="one.count > 1">, {{ one.count }} of them</template></span
                >
              </div>
              <p class="soft known">{{ one.known }}</p>
              <p class="places">
                <template v-if="one.uses.length"
                  >in
                  <template v-for="(use, i) in one.uses.slice(0, few)" :key="use.model + use.part"
                    ><template v-if="i">, </template
                    ><RouterLink
                      :to="{ name: 'kit', params: { id: use.model }, query: { part: use.part } }"
                      >{{ use.name || 'a model without a name' }}</RouterLink
                    ></template
                  ><template v-if="one.uses.length > few">
                    and {{ one.uses.length - few }} more</template
                  ></template
                ><template v-else>in no model</template
                ><template v-if="!one.shared && one.count > one.uses.length && one.count > 1"
                  >; {{ one.count - one.uses.length }} spare</template
                >
              </p>
            </div>
            <p v-if="one.crowded" class="fault">{{ one.crowded }}.</p>
            <p v-if="one.broken" class="fault">
              This piece cannot be read by this Axtren: {{ one.broken }}. It is not lost:
              <a :href="`/api/models/${one.id}/export`" download>take it out as a file</a>.
            </p>
            <div v-if="one.id === piece && bench.view && !one.broken" class="opened">
              <p v-if="!one.shared" class="field">
                <label :for="`count-${one.id}`">how many you have</label>
                <InputNumber
                  :model-value="one.count"
                  :input-id="`count-${one.id}`"
                  :min="1"
                  :max="1000"
                  :allow-empty="false"
                  input-class="count"
                  @update:model-value="count"
                />
              </p>
              <ControlFinder
                v-if="one.kind === 'transmitter'"
                v-model:opened="opened"
                :parts="of('controls')"
                shelved
              >
                <MenuButton
                  :items="kinds('controls')"
                  label="Add a control"
                  @choose="(kind) => add('controls', kind)"
                  >Add a control</MenuButton
                >
              </ControlFinder>
              <PieceUses v-if="one.uses.length" :piece="one.id" :revision="bench.model?.revision ?? 0" />
              <PartForm :part="one.part" whole />
              <p class="acts">
                <Button class="quiet" @click="once($event, () => remove(one))">Take it off the shelf</Button>
                <span v-if="one.uses.length" class="soft"
                  >The models that it is in keep what they have of it.</span
                >
              </p>
            </div>
          </li>
        </ul>
      </section>
    </main>
    <Dialog v-model:visible="newShown" modal header="What is it?" :style="{ width: 'min(680px, 94vw)' }">
      <section v-for="group in shelf?.kinds" :key="group.kind" class="new">
        <h3>{{ capital(group.name) }}</h3>
        <p class="acts">
          <Button
            v-for="one in group.of"
            :key="one.key"
            class="quiet"
            :data-new="`${group.kind} ${one.key}`"
            @click="once($event, () => make(group.kind, one.key))"
            >{{ capital(one.name) }}</Button
          >
        </p>
      </section>
    </Dialog>
    <ClashDialog />
  </div>
</template>

<style scoped>
.shelf {
  min-height: 100dvh;
}

h2 {
  margin-top: 18px;
  font-size: 1.1875rem;
}

.state {
  margin-left: auto;
}

main {
  container: main / inline-size;
  max-width: 1240px;
  padding: 12px 22px;
}

.empty {
  max-width: 65ch;
  padding: 30px 0;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
  border-top: 1.5px solid var(--ink);
}

li {
  border-bottom: 1px solid var(--rule);
  padding: 4px 0;
}

.row {
  display: grid;
  grid-template-columns: minmax(180px, 4fr) minmax(0, 6fr) minmax(0, 4fr);
  gap: 2px 20px;
  align-items: center;
  min-height: 44px;
}

.who {
  overflow-wrap: anywhere;
}

.name {
  display: inline-block;
  min-height: 24px;
  margin-right: 10px;
  font-weight: 700;
}

.known {
  display: -webkit-box;
  -webkit-box-orient: vertical;
  -webkit-line-clamp: 2;
  overflow: hidden;
  font-size: 0.9688rem;
}

.opened {
  display: grid;
  gap: 12px;
  margin: 8px 0 14px;
  padding: 12px 16px;
  border-left: 5px solid var(--petrol);
  background: var(--sheet);
}

.field {
  display: flex;
  align-items: center;
  gap: 14px;
}

.field :deep(.count) {
  width: 90px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  gap: 8px 14px;
}

.new {
  margin-bottom: 14px;
}

h3 {
  margin-bottom: 6px;
  font-size: 1.0625rem;
}

@media (max-width: 760px) {
  main {
    padding-inline: 14px;
  }

  .row {
    grid-template-columns: minmax(0, 1fr);
    padding: 4px 0;
  }

  .opened {
    padding: 8px 10px;
  }
}
</style>
