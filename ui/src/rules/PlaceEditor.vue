<script setup lang="ts">
/** Fills one place of a sentence. What it can be filled with comes from the server. */
import Button from 'primevue/button'
import { computed, shallowRef, useId } from 'vue'

import { typed } from '../figures'
import MovePrompt from '../parts/MovePrompt.vue'
import BeatDrawing from './BeatDrawing.vue'
import ConditionPicker from './ConditionPicker.vue'
import RowsEditor from './RowsEditor.vue'
import TracksRuler from './TracksRuler.vue'
import { choicesOf, type Lists, type Place, type Values } from './places'

const props = defineProps<{ place: Place; places: Place[]; lists: Lists; values: Values }>()
const emit = defineEmits<{ change: [values: Values] }>()
const id = useId()
const moving = shallowRef(false)
const own = computed(() => props.values[props.place.key] ?? [])
const choices = computed(() => choicesOf(props.place, props.places, props.lists, props.values))
/** A control can be chosen by moving it. */
const movable = computed(() => ['lever', 'switch', 'stays', 'button', 'source'].includes(props.place.of))
/** The switch that other places of the sentence speak of. */
const chooser = computed(() => {
  const by = props.places.find((one) => one.key === 'switch')
  return (
    by &&
    choicesOf(by, props.places, props.lists, props.values).find((c) => c.value === props.values.switch?.[0])
  )
})
const positions = computed(() => chooser.value?.names ?? [])

const put = (list: string[]) => emit('change', { [props.place.key]: list })

/** What a switch begins with comes with its choice. */
function choose(value: string) {
  const chosen = choices.value.find((one) => one.value === value)
  const follows = props.places.find(
    (one) => props.place.key === 'switch' && (one.kind === 'positions' || one.of === 'positions'),
  )
  emit('change', {
    [props.place.key]: [value],
    ...(follows && chosen?.usual ? { [follows.key]: chosen.usual } : {}),
  })
}
function moved([what = '']: string[]) {
  const control = what.split('.')[0] ?? ''
  if (!choices.value.some((one) => one.value === control)) return
  moving.value = false
  choose(control)
}
function at(k: number, value: string) {
  const list = positions.value.map((_, i) => own.value[i] ?? choices.value[0]?.value ?? '')
  list[k] = value
  put(list)
}
function check(value: string, on: boolean) {
  const others = own.value.filter((one) => one !== value)
  put(on ? [...others, value] : others)
}
/** Usual ways to fill the rows, and the one that they are filled with. */
const usual = computed(() => (props.place.kind === 'rows' ? choices.value.filter((one) => one.usual) : []))
const chosenUsual = computed(() => usual.value.find((one) => one.usual?.join() === own.value.join()))
function begin(event: Event) {
  const value = (event.target as HTMLSelectElement).value
  put(usual.value.find((one) => one.value === value)?.usual ?? [])
}
/** A figure is read as a person types it; what is none is sent as it is, and refused by name. */
const figure = (text: string) => (text.trim() ? String(typed(text, props.place.unit) ?? text) : '')
</script>

<template>
  <div class="filler" :data-place="place.key">
    <p class="ask">{{ place.label }}</p>
    <template v-if="place.kind === 'truth'">
      <ConditionPicker
        :key="place.key"
        :label="place.label"
        :value="own[0] ?? ''"
        :choices="choices"
        :optional="place.optional"
        @change="put([$event])"
      />
    </template>
    <template v-else-if="place.kind === 'truths'">
      <ConditionPicker
        v-for="(one, k) in [...own, ...(own.length < 8 ? [''] : [])]"
        :key="`${k} ${own.length}`"
        :label="k < own.length ? `${place.label}, ${k + 1}` : own.length ? 'And' : place.label"
        :value="one"
        :choices="choices"
        :optional="own.length > 1"
        @change="
          put($event ? [...own.slice(0, k), $event, ...own.slice(k + 1)] : own.filter((_, i) => i !== k))
        "
      />
    </template>
    <fieldset v-else-if="place.kind === 'many'">
      <legend class="unseen">{{ place.label }}</legend>
      <label v-for="one in choices" :key="one.value" class="one"
        ><input
          type="checkbox"
          :checked="own.includes(one.value)"
          @change="check(one.value, ($event.target as HTMLInputElement).checked)"
        />
        {{ one.label }}</label
      >
      <p v-if="!choices.length" class="soft">There is no function yet: Functions adds one.</p>
    </fieldset>
    <fieldset v-else-if="place.kind === 'positions'">
      <legend class="unseen">{{ place.label }}</legend>
      <p v-if="!positions.length" class="soft">Choose the switch first.</p>
      <label v-for="(name, k) in positions" :key="name"
        >{{ name }}
        <select
          v-if="choices.length"
          class="box"
          :value="own[k] ?? choices[0]?.value"
          @change="at(k, ($event.target as HTMLSelectElement).value)"
        >
          <option v-for="one in choices" :key="one.value" :value="one.value">{{ one.label }}</option>
        </select>
        <template v-else
          ><input
            class="box fig"
            inputmode="decimal"
            size="5"
            :value="own[k] ?? ''"
            @change="at(k, figure(($event.target as HTMLInputElement).value))"
          />
          {{ place.unit }}</template
        ></label
      >
    </fieldset>
    <template v-else-if="place.kind === 'rows'">
      <p v-if="usual.length" class="acts">
        <label
          >Begin with a usual one
          <select class="box" :value="chosenUsual?.value ?? ''" data-usual @change="begin">
            <option value="" disabled>choose one</option>
            <option v-for="one in usual" :key="one.value" :value="one.value">{{ one.label }}</option>
          </select></label
        >
      </p>
      <p v-if="chosenUsual?.says" class="caution">{{ chosenUsual.says }}</p>
      <BeatDrawing v-if="place.of === 'beats'" :values="own" />
      <TracksRuler v-if="place.key === 'tracks'" :values="own" @change="put" />
    </template>
    <RowsEditor
      v-if="place.kind === 'rows'"
      :place="place"
      :values="own"
      :first="place.of === 'positions' ? positions.map((name) => name.replaceAll(' ', '_')) : undefined"
      @change="put"
    />
    <p v-if="place.kind === 'number'" class="acts">
      <label :for="id" class="unseen">{{ place.label }}</label>
      <input
        :id="id"
        class="box fig"
        inputmode="decimal"
        size="5"
        :value="own[0] ?? ''"
        @change="put([figure(($event.target as HTMLInputElement).value)])"
      />
      {{ place.unit }}
    </p>
    <p v-else-if="place.kind === 'text'" class="acts">
      <label :for="id" class="unseen">{{ place.label }}</label>
      <input
        :id="id"
        class="box words"
        maxlength="120"
        :value="own[0] ?? ''"
        @change="put([($event.target as HTMLInputElement).value.trim()])"
      />
    </p>
    <template v-else-if="place.kind === 'one'">
      <p class="acts">
        <label :for="id" class="unseen">{{ place.label }}</label>
        <select
          :id="id"
          class="box"
          :value="own[0] ?? ''"
          @change="choose(($event.target as HTMLSelectElement).value)"
        >
          <option value="" :disabled="!place.optional">
            {{ place.optional ? 'as is usual' : 'choose one' }}
          </option>
          <option v-for="one in choices" :key="one.value" :value="one.value">{{ one.label }}</option>
        </select>
        <Button v-if="movable" class="quiet" @click="moving = !moving">Choose by moving it</Button>
      </p>
      <MovePrompt
        v-if="moving"
        :asks="[`${place.label}: move it now.`]"
        :presses="['switch', 'stays', 'button'].includes(place.of)"
        @moved="moved"
        @cancel="moving = false"
      />
    </template>
  </div>
</template>

<style scoped>
.ask {
  margin: 0 0 6px;
  font-weight: 650;
}

fieldset {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin: 0;
  padding: 0;
  border: 0;
}

.one {
  display: inline-flex;
  align-items: center;
  gap: 6px;
  min-height: 40px;
}

.one input {
  width: 22px;
  height: 22px;
}

.acts {
  display: flex;
  flex-wrap: wrap;
  gap: 6px 10px;
  align-items: center;
}

.box {
  max-width: 100%;
}

.caution {
  margin: 4px 0;
  padding-left: 10px;
  border-left: 3px solid var(--ink);
}

.words {
  width: min(28em, 100%);
}
</style>
