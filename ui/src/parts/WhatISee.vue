<script setup lang="ts">
/** What I see: one try after the other, what was seen at each, and which faults explain it all. */
import Button from 'primevue/button'
import { computed, onMounted, ref, shallowRef, watch } from 'vue'

import type { Look, Problem, SaidFault } from '../api/client'
import { noteEvent } from '../api/events'
import { useOnce } from '../composables/useOnce'
import { capital, typed } from '../figures'
import { useBench } from '../stores/bench'
import { useSeen } from '../stores/seen'
import FaultFilm from './FaultFilm.vue'
import SeenSights from './SeenSights.vue'

const emit = defineEmits<{ go: [fault: SaidFault] }>()
const bench = useBench()
const seen = useSeen()
const saw = ref<Record<string, string>>({})
const read = ref<Record<number, string>>({})
const shown = shallowRef<number>()

onMounted(() => void seen.ask())
watch(
  () => bench.model?.revision,
  (now) => now && void seen.ask(),
)
/** A try of the person's own in place of the one that is asked for: places in what hands can do. */
const own = ref<number[]>([])
const tries = computed(() => seen.answer?.tries ?? [])
const chosen = computed(() => own.value.flatMap((at) => tries.value[at] ?? []))
/** What is to be done now. */
const now = computed(() => {
  const next = seen.answer?.next
  if (chosen.value.length) {
    const hands = Object.fromEntries(chosen.value.map((one) => [one.control, one.at]))
    return { hands, does: chosen.value.map((one) => one.does), own: true }
  }
  return next && { hands: next.hands, does: next.does, own: false }
})
const says = computed(() => {
  const does = now.value?.does ?? []
  return `${capital(does.length ? does.join(', and ') : 'leave everything at rest')}.`
})
/** What may be done besides what was chosen, each control once. */
const others = computed(() =>
  tries.value
    .map((one, at) => ({ ...one, at }))
    .filter((one) => !chosen.value.some((other) => other.control === one.control)),
)
function choose(event: Event) {
  const list = event.target as HTMLSelectElement
  if (list.value !== '') own.value = [...own.value, +list.value]
  list.value = ''
}
const devices = computed(() => {
  const about = new Set(now.value?.own ? [] : seen.answer?.next?.about)
  const all = seen.answer?.sights.devices ?? []
  const first = all.filter((one) => about.has(one.id))
  return first.length ? { first, more: all.filter((one) => !about.has(one.id)) } : { first: all, more: [] }
})
const displays = computed(() => {
  const about = new Set(seen.answer?.next?.channels)
  const all = seen.answer?.sights.displays ?? []
  return [...all].sort((a, b) => +about.has(b.channel) - +about.has(a.channel))
})
const figures = computed(() => {
  const list: Look['display'] = {}
  for (const [channel, text] of Object.entries(read.value)) {
    const figure = typed(text)
    if (figure !== undefined) list[channel] = figure
  }
  return list
})
const bad = (channel: number) => (read.value[channel] ?? '').trim() !== '' && !(channel in figures.value)
const empty = computed(() => Object.keys(saw.value).length === 0 && Object.keys(figures.value).length === 0)
function forget() {
  saw.value = {}
  read.value = {}
}
watch(says, forget)
watch(
  () => seen.answer,
  () => {
    shown.value = undefined
    all.value = false
    own.value = []
  },
)

function keep() {
  if (now.value) seen.add({ hands: now.value.hands, display: figures.value, seen: { ...saw.value } })
  forget()
}

/** What was found is noted, with what mends it. */
const { once } = useOnce()
const noted = shallowRef(new Set<string>())
const noting = shallowRef<Problem>()
async function note(fault: SaidFault) {
  noting.value = await noteEvent(bench.model?.id ?? '', { kind: 'fault', what: fault.says, says: fault.mend })
  if (!noting.value) noted.value = new Set([...noted.value, fault.says])
}

/** So many causes are shown at first. */
const few = 5
const all = shallowRef(false)
const listed = computed(() => seen.answer?.causes.slice(0, all.value ? undefined : few) ?? [])
const hidden = computed(() => (seen.answer?.causes.length ?? 0) - listed.value.length)
const head = computed(() => {
  const answer = seen.answer
  if (!answer || !seen.looks.length) return ''
  const n = answer.causes.length
  if (answer.right) return 'So far all is as it should be.'
  if (n === 0 && !answer.complete) return 'No cause was found in the time that it was given.'
  if (n === 0) return `No ${answer.most} faults at once explain all of this.`
  return n === 1
    ? 'One cause explains all that you saw.'
    : `${n} causes explain all that you saw. The likeliest first:`
})
</script>

<template>
  <div v-if="!seen.answer && seen.problem">
    <p class="fault">{{ seen.problem.title }}. {{ capital(seen.problem.detail ?? '') }}</p>
    <Button v-if="seen.looks.length" class="quiet" @click="seen.again()">Start again</Button>
  </div>
  <p v-else-if="!seen.answer" role="status" class="soft">Working out what to try first.</p>
  <template v-else>
    <section v-if="now" class="try" aria-label="What to try" :aria-busy="seen.asking">
      <p class="label">
        Try {{ seen.looks.length + 1 }}. Model on its stand, transmitter first, then the model, all at rest.
      </p>
      <h3>{{ says }}</h3>
      <p class="soft">
        Keep it there for three seconds, then say what you see. Leave out what you did not look at.
      </p>
      <SeenSights v-model="saw" :devices="devices.first" />
      <details v-if="devices.more.length">
        <summary>What else you saw</summary>
        <SeenSights v-model="saw" :devices="devices.more" />
      </details>
      <details v-if="displays.length" class="displays" :open="!devices.first.length">
        <summary>What the transmitter’s own display shows, if it has one</summary>
        <p class="soft">That parts a wrong setting in the transmitter from a wrong plug or wire.</p>
        <label v-for="one in displays" :key="one.channel" :data-display="one.channel">
          <span
            >Channel {{ one.channel }}, {{ one.label }}
            <span v-if="one.counts" class="soft">{{ one.counts }}</span></span
          >
          <span v-if="bad(one.channel)" class="fault">Write a figure, such as 94.</span>
          <input v-model="read[one.channel]" class="box fig" inputmode="text" size="6" />
        </label>
      </details>
      <p class="acts">
        <Button :disabled="empty || seen.asking || displays.some((one) => bad(one.channel))" @click="keep"
          >That is what I see</Button
        >
        <Button v-if="now.own" class="quiet" @click="own = []">Try what is asked for</Button>
        <select class="box" :aria-label="now.own ? 'and with it' : 'try something else'" @change="choose">
          <option value="">{{ now.own ? 'And with it …' : 'Try something else …' }}</option>
          <option v-for="one in others" :key="one.at" :value="one.at">{{ capital(one.does) }}</option>
        </select>
      </p>
    </section>

    <p v-else-if="!seen.looks.length" class="soft">
      There is nothing to try yet: no function moves with a control. Add one in Functions.
    </p>

    <section v-if="seen.looks.length" aria-label="What it can be">
      <div role="status">
        <h3>{{ seen.asking ? 'Working it out.' : head }}</h3>
      </div>
      <p v-if="seen.problem" class="fault">
        {{ seen.problem.title }}. {{ capital(seen.problem.detail ?? '') }}. What is said here is of before it.
      </p>
      <ol v-if="!seen.answer.right && seen.answer.causes.length" class="sets">
        <li v-for="(set, i) in listed" :key="i">
          <p v-for="(fault, k) in set.faults" :key="k">
            <strong>{{ fault.says }}</strong> {{ fault.mend }}
            <button type="button" class="link" @click="emit('go', fault)">Go there</button>
            <button
              type="button"
              class="link"
              :disabled="noted.has(fault.says)"
              @click="once($event, () => note(fault))"
            >
              {{ noted.has(fault.says) ? 'It is in the log' : 'That was it: note it in the log' }}
            </button>
          </p>
          <p v-if="set.shows.length && seen.answer.causes.length > 1" class="soft">
            At the next try it would show:
            <template v-for="(one, k) in set.shows.slice(0, 6)" :key="k"
              >{{ k ? '; ' : '' }}{{ one.label }} {{ one.says }}</template
            ><template v-if="set.shows.length > 6">, and more</template>.
          </p>
          <button
            type="button"
            class="link"
            :aria-expanded="shown === i"
            :aria-label="`${shown === i ? 'Close the picture' : 'See it move'}: cause ${i + 1}`"
            @click="shown = shown === i ? undefined : i"
          >
            {{ shown === i ? 'Close the picture' : 'See it move' }}
          </button>
          <FaultFilm
            v-if="shown === i"
            :faults="set.faults.map((one) => one.named)"
            :hands="seen.looks.at(-1)?.hands ?? {}"
          />
        </li>
      </ol>
      <button v-if="hidden" type="button" class="link" @click="all = true">
        Show {{ hidden }} more, less likely
      </button>
      <p v-if="noting" class="fault" role="alert">{{ noting.title }}. {{ noting.detail }}</p>
      <p v-if="!seen.answer.complete" class="soft">Not everything was tried out: there may be more.</p>
      <template v-if="!seen.answer.right && !seen.answer.causes.length && !seen.asking">
        <p v-if="seen.answer.doubts.length">
          One of these, seen otherwise, would make sense of all the rest. Look again:
        </p>
        <p v-else-if="seen.answer.complete">
          Nor would it if one thing were seen otherwise. Start again with one control, or look at the power,
          the leads and the parts themselves.
        </p>
        <ul>
          <li v-for="(doubt, i) in seen.answer.doubts" :key="i">
            Try {{ doubt.look + 1 }}: {{ doubt.label }} – you saw “{{ doubt.saw }}”; it would have to be
            {{ doubt.would.join(', or ') }}.
          </li>
        </ul>
      </template>
      <p v-if="seen.left" class="soft">
        Of the walk {{ seen.left === 1 ? '1 step is' : `${seen.left} steps are` }} not among this: what was
        seen there depends on what was done before.
      </p>
      <details class="looks">
        <summary>What you saw so far: {{ seen.looks.length }}</summary>
        <p v-for="(stood, i) in seen.answer.looks" :key="i">
          {{ i + 1 }}. {{ stood }}
          <button type="button" class="link" :aria-label="`Remove try ${i + 1}`" @click="seen.remove(i)">
            Remove
          </button>
        </p>
      </details>
      <p class="acts">
        <Button class="quiet" @click="seen.again()">Start again</Button>
        <select v-if="!now" class="box" aria-label="try something more" @change="choose">
          <option value="">Try something more …</option>
          <option v-for="one in others" :key="one.at" :value="one.at">{{ capital(one.does) }}</option>
        </select>
      </p>
    </section>
  </template>
</template>

<style scoped>
.try {
  margin-top: 14px;
  border-bottom: 1px solid var(--rule);
  padding-bottom: 8px;
}

.displays label {
  display: flex;
  flex-wrap: wrap;
  align-items: center;
  justify-content: space-between;
  gap: 4px 12px;
  padding: 4px 0;
  border-top: 1px solid var(--rule);
}

details {
  padding: 6px 0;
}

select {
  max-width: 100%;
}

.sets {
  padding-left: 24px;
}

.sets > li {
  padding: 6px 0;
  border-bottom: 1px solid var(--rule);
}

.sets p {
  margin: 2px 0;
}

.sets .link {
  margin-right: 12px;
}
</style>
