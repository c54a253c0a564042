<script setup lang="ts">
/** Bench: the model is tried, one step at a time; what was seen is kept, and a walk is signed. */
import Button from 'primevue/button'
import { computed, onBeforeUnmount, shallowRef, watch } from 'vue'

import { api, unreachable, type Problem, type Schemas } from '../api/client'
import { useOnce } from '../composables/useOnce'
import { moment } from '../moments'
import BringCode from '../parts/BringCode.vue'
import { sceneOf } from '../stage/numbers'
import StagePicture from '../stage/StagePicture.vue'
import StageRow from '../stage/StageRow.vue'
import { useBench } from '../stores/bench'
import { usePlayer } from '../stores/player'
import { useSeen } from '../stores/seen'
import { useStage } from '../stores/stage'
import { useTrying } from '../stores/trying'
import { smaller } from '../walk/photo'
import SignWalk from '../walk/SignWalk.vue'
import TryAgain from '../walk/TryAgain.vue'
import WalkStep from '../walk/WalkStep.vue'

const props = defineProps<{ id: string }>()
const bench = useBench()
const player = usePlayer()
const seen = useSeen()
const stage = useStage()
const trying = useTrying()
const { once } = useOnce()
const walks = shallowRef<Schemas['WalkHead'][]>()
const walk = shallowRef<Schemas['Walk']>()
const problem = shallowRef<Problem>()
/** The step that is tried; as many as there are: it is signed. */
const at = shallowRef(0)
const all = shallowRef(false)
/** Somebody has read what has to be safe. */
const begun = shallowRef(false)
const starting = shallowRef(false)

async function asks<T>(get: () => Promise<{ data?: T; error?: Problem }>): Promise<T | undefined> {
  const answer: { data?: T; error?: Problem } = await get().catch(() => ({ error: unreachable }))
  problem.value = answer.error
  return answer.data
}
const path = (one: string) => ({ params: { path: { id: props.id, walk: one } } })

async function list() {
  const came = await asks(() => api.GET('/api/models/{id}/walks', { params: { path: { id: props.id } } }))
  if (came) walks.value = came
}

async function start(whole: boolean, again = false) {
  starting.value = true
  const came = await asks(() =>
    api.POST('/api/models/{id}/walks', { params: { path: { id: props.id }, query: { whole, again } } }),
  )
  starting.value = false
  if (came) goOn(came)
}

async function open(one: string) {
  const came = await asks(() => api.GET('/api/models/{id}/walks/{walk}', path(one)))
  if (came) goOn(came)
}

/** Goes on where nothing was seen yet. */
function goOn(one: Schemas['Walk']) {
  walk.value = one
  const open = one.went.findIndex((step) => !step.done)
  at.value = one.head.signed || open < 0 ? one.steps.length : open
  all.value = false
  begun.value = one.ticks.length > 0
}

/** What is known from the walk is taken to the diagnosis, which says what it can be, and what to try next. */
async function diagnose() {
  if (!walk.value) return
  const own = walk.value.head.id
  const came = await asks(() => api.GET('/api/models/{id}/walks/{walk}/looks', path(own)))
  if (came) seen.take(came.looks, came.left)
}

async function photo(part: string, file: File) {
  if (!walk.value) return
  const own = walk.value.head.id
  const where = new URLSearchParams({ step: String(at.value), part })
  const came = await asks<Schemas['Walk']>(async () => {
    const body = await smaller(file)
    const answer = await fetch(`/api/models/${props.id}/walks/${own}/photo?${where}`, {
      method: 'PUT',
      headers: { 'Content-Type': 'application/octet-stream' },
      body,
    })
    const told: unknown = await answer.json()
    return answer.ok ? { data: told as Schemas['Walk'] } : { error: told as Problem }
  })
  if (came) walk.value = came
}

/** Brings back what was ticked in the file of this walk. */
async function bring(code: string): Promise<Problem | undefined> {
  if (!walk.value) return undefined
  const answer: { data?: Schemas['Walk']; error?: Problem } = await api
    .POST('/api/models/{id}/walks/{walk}/code', {
      ...path(walk.value.head.id),
      body: code,
      headers: { 'Content-Type': 'text/plain' },
      bodySerializer: (body) => body,
    })
    .catch(() => ({ error: unreachable }))
  if (answer.data) goOn(answer.data)
  return answer.error
}
const photoOf = (part: string) => file(`photo?${new URLSearchParams({ step: String(at.value), part })}`)
const file = (ending: string) => `/api/models/${props.id}/walks/${walk.value?.head.id}/${ending}`

async function tick(parts: Schemas['Ticking']['parts']): Promise<boolean> {
  if (!walk.value) return false
  const own = walk.value.head.id
  const came = await asks(() =>
    api.POST('/api/models/{id}/walks/{walk}/ticks', { ...path(own), body: { step: at.value, parts } }),
  )
  if (came) walk.value = came
  return came !== undefined
}

async function sign(by: Schemas['Signing']) {
  if (!walk.value) return
  const own = walk.value.head.id
  const came = await asks(() =>
    api.POST('/api/models/{id}/walks/{walk}/signature', { ...path(own), body: by }),
  )
  if (came) walk.value = came
}

async function drop(one: string) {
  await asks(() => api.DELETE('/api/models/{id}/walks/{walk}', path(one)))
  if (!problem.value) leave()
}

function leave() {
  walk.value = undefined
  void list()
}

watch(
  () => props.id,
  () => {
    walk.value = walks.value = undefined
    void list()
  },
  { immediate: true },
)

/** Another phone may go the same walk: what is ticked there shows here at once. */
let looked = 0
watch(
  () => trying.kept,
  async () => {
    if (!walk.value) return list()
    if (walk.value.head.signed) return
    const own = walk.value.head.id
    const turn = ++looked
    const answer = await api.GET('/api/models/{id}/walks/{walk}', path(own)).catch(() => undefined)
    if (answer?.data && turn === looked && walk.value?.head.id === own) walk.value = answer.data
  },
)

const step = computed(() => walk.value?.steps[at.value])
/** What it looks like when it is right: the step plays on the stage, from where the one before ended. */
function show() {
  const now = step.value
  if (!walk.value || !now || !bench.view) return
  const frame = Math.round((now.from_s * 1000) / bench.frameMs)
  player.play(`walk/${walk.value.head.id}/${now.at_s}`, { run: 1, seek: frame })
}
watch([() => walk.value?.head.id, () => at.value, () => begun.value], () =>
  step.value && begun.value ? show() : endPlay(),
)
const plays = computed(() => player.playing?.recording.startsWith('walk/'))
function endPlay() {
  if (plays.value) player.play('')
}
const poses = computed(() => (stage.picture ? sceneOf(stage.picture, bench.values, stage.at).poses : []))
const said = computed(() => [stage.words?.head, ...(stage.words?.more ?? [])].filter(Boolean).join(' '))
onBeforeUnmount(endPlay)

/** Something was signed: what was tried then still stands, or not. */
const anySigned = computed(() => walks.value?.some((one) => one.signed))
const newest = computed(() => bench.model?.revision ?? walk.value?.now)
function kind(of: Schemas['WalkHead']): string {
  if (of.some)
    return of.some === 1 ? 'of one part that was out of date' : `of ${of.some} parts that were out of date`
  return of.whole ? 'every control to each of its ends' : 'the fewest steps'
}
const done = computed(() => (walk.value ? walk.value.head.done : 0))
</script>

<template>
  <h2 class="unseen">Bench</h2>
  <div class="trying split">
    <section aria-label="Try it">
      <p v-if="problem" class="fault" role="alert">{{ problem.title }}: {{ problem.detail }}</p>
      <template v-if="walk">
        <div class="head">
          <p class="soft" data-walked="of">
            <template v-if="step">Try it, {{ at + 1 }} of {{ walk.steps.length }}</template>
            <template v-else>{{ done }} of {{ walk.steps.length }} steps tried</template>
            · {{ kind(walk.head) }}
          </p>
          <div class="acts">
            <button type="button" class="link" :aria-expanded="all" @click="all = !all">All steps</button>
            <button type="button" class="link" @click="leave">Leave it for now</button>
          </div>
        </div>
        <div class="bar" aria-hidden="true">
          <i :style="{ width: `${(100 * done) / Math.max(walk.steps.length, 1)}%` }" />
        </div>
        <p v-if="walk.head.revision !== newest && !walk.head.signed" class="soft">
          The model was changed since these steps were worked out: revision {{ walk.head.revision }}, and now
          it is {{ newest }}. Begin anew to try it as it is now.
        </p>
        <ol v-if="all" class="steps">
          <li v-for="(one, n) in walk.steps" :key="n">
            <button type="button" class="link" :aria-current="n === at" @click="at = n">
              {{ walk.went[n]?.other ? '▲ ' : walk.went[n]?.done ? '✓ ' : '' }}{{ one.does.join(' ') }}
            </button>
          </li>
        </ol>
        <div v-if="step && !begun" class="safe" data-safe>
          <h3>First, make it safe</h3>
          <p v-for="line in walk.safe" :key="line">{{ line }}</p>
          <Button class="main" data-begin @click="begun = true">It is safe: begin</Button>
        </div>
        <WalkStep
          v-else-if="step"
          :key="`${walk.head.id}/${at}`"
          :step="step"
          :at="at"
          :ticks="walk.ticks.filter((one) => one.step === at)"
          :ways="walk.ways"
          :photo-of="photoOf"
          :signed="walk.head.signed !== undefined"
          :once="once"
          :keep="tick"
          :photo="photo"
          @cause="once(undefined, diagnose)"
          @back="at = Math.max(at - 1, 0)"
          @next="at++"
        />
        <SignWalk
          v-else
          :walk="walk"
          :sign="sign"
          @back="at = Math.max(walk.steps.length - 1, 0)"
          @drop="drop(walk.head.id)"
        />
      </template>
      <template v-else>
        <h3>Try it on the bench</h3>
        <p>
          One step at a time: what the hands do, what must move and which way, what the display must read.
          What you see is kept, and you can leave it and go on later, here or on the phone.
        </p>
        <div class="ways">
          <div>
            <Button :disabled="starting" data-walk="fewest" @click="once($event, () => start(false))"
              >Try it in the fewest steps</Button
            >
            <p class="soft">Worked out so that every single fault of this setup would be seen.</p>
          </div>
          <div>
            <Button
              class="quiet"
              :disabled="starting"
              data-walk="whole"
              @click="once($event, () => start(true))"
              >Every control, to each end</Button
            >
            <p class="soft">One after the other, and the fewest steps after that.</p>
          </div>
        </div>
        <p v-if="starting" class="soft" role="status">The steps are being worked out.</p>
        <template v-if="walks?.length">
          <h3 class="next">Walks so far</h3>
          <ul class="walks">
            <li v-for="one in walks" :key="one.id" :data-kept="one.id">
              <span class="fig soft">{{ moment(one.made_at) }}</span>
              <span>
                <b v-if="one.signed">{{ one.other ? '▲ ' : '✓ ' }}Signed by {{ one.signed.who }}</b>
                <b v-else>{{ one.done }} of {{ one.of }} steps tried</b>
                <span class="soft">
                  · revision {{ one.revision }} · {{ kind(one)
                  }}<template v-if="one.other">
                    · {{ one.other === 1 ? '1 step' : `${one.other} steps` }} otherwise</template
                  ><template v-if="one.signed?.battery"> · {{ one.signed.battery }}</template>
                </span>
              </span>
              <Button class="quiet" @click="open(one.id)">{{ one.signed ? 'Look at it' : 'Go on' }}</Button>
            </li>
          </ul>
        </template>
        <p v-else-if="walks" class="soft">This model was never tried here.</p>
      </template>
    </section>
    <aside>
      <template v-if="walk && step && begun">
        <h3>What it looks like when right</h3>
        <template v-if="stage.picture">
          <StagePicture
            :picture="stage.picture"
            :values="bench.values"
            :at="stage.at"
            :words="said || 'The model on its ground'"
          />
          <p class="said">{{ said }}</p>
          <StageRow :picture="stage.picture" :poses="poses" :words="stage.words?.row ?? []" />
        </template>
        <p v-else class="soft">There is no picture of this model yet: <i>Stage</i> makes one.</p>
        <div class="acts">
          <Button class="quiet" data-show @click="show">Show it again</Button>
          <Button v-if="plays" class="quiet" @click="player.play('')">Back to the hands</Button>
        </div>
      </template>
      <section v-if="walk?.taught.length && step && !begun" aria-label="What has learned a travel">
        <h3>What has learned a travel</h3>
        <p v-for="line in walk.taught" :key="line">{{ line }}</p>
      </section>
      <TryAgain v-if="!walk && anySigned" :id="id" title="Since the last walk">
        <template #default="{ again }">
          <Button
            v-if="again.parts.length"
            class="quiet"
            :disabled="starting"
            data-walk="again"
            @click="once($event, () => start(false, true))"
            >Try that alone</Button
          >
        </template>
      </TryAgain>
      <details v-if="walk" class="along" data-along>
        <summary>Take it along</summary>
        <div class="acts">
          <a class="link" :href="file('sheet.pdf?paper=A4')" download>On paper, large</a>
          <a class="link" :href="file('sheet.pdf?paper=A6')" download>On paper, small</a>
          <a class="link" :href="file('carried.html')" download>One file for the phone</a>
        </div>
        <template v-if="!walk.head.signed">
          <p class="soft">
            The file needs no network, and keeps what is ticked. What it says in the end is brought back here.
          </p>
          <BringCode :bring="bring" />
        </template>
      </details>
      <p v-for="line in walk?.shown ?? []" :key="line" class="soft shown">{{ line }}</p>
    </aside>
  </div>
</template>

<style scoped>
.trying {
  --beside: 404px;
}

h3 {
  font-size: 1.1875rem;
}

.ways {
  margin-top: 12px;
}

.said {
  margin: 4px 0 0;
  min-height: 3em; /* the picture does not jump while words come and go */
}

.next {
  margin-top: 22px;
}

.head {
  display: flex;
  flex-wrap: wrap;
  justify-content: space-between;
  gap: 2px 16px;
}

.head p {
  margin: 0;
}

.bar {
  height: 8px;
  margin: 6px 0 12px;
  background: var(--rule);
}

.bar i {
  display: block;
  height: 100%;
  background: var(--petrol);
}

.ways {
  display: flex;
  flex-wrap: wrap;
  gap: 12px 32px;
}

.ways p {
  max-width: 300px;
  margin: 4px 0 0;
}

.walks {
  list-style: none;
  margin: 0;
  padding: 0;
}

.walks li {
  display: grid;
  grid-template-columns: 104px 1fr auto;
  align-items: center;
  gap: 4px 12px;
  min-height: var(--row);
  border-bottom: 1px solid var(--rule);
}

.steps {
  max-height: 190px;
  margin: 0 0 12px;
  overflow-y: auto;
}

.steps .link {
  text-align: left;
}

.steps [aria-current='true'] {
  font-weight: 700;
}

.shown {
  margin: 10px 0 0;
}

.along {
  margin-top: 14px;
  padding-top: 8px;
  border-top: 1px solid var(--rule);
}

.safe {
  padding: 10px 16px 14px;
  border: 1.5px solid var(--danger);
  border-left-width: 10px;
  background: var(--sheet);
  font-size: 1.125rem;
}

.safe h3 {
  margin: 0 0 8px;
  font-size: 1.75rem;
}

.safe p {
  margin: 0 0 8px;
}

.main {
  min-height: 48px;
  padding-inline: 22px;
  font-size: 1.1875rem;
}
</style>
