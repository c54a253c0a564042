<script setup lang="ts">
/** Phones: a code to let one in over the person's own network, and those that were let in. */
import { useIntervalFn } from '@vueuse/core'
import Button from 'primevue/button'
import Dialog from 'primevue/dialog'
import qrcode from 'qrcode-generator'
import { computed, shallowRef, watch } from 'vue'

import { api, unreachable, type PhoneCode, type Phones, type Problem } from '../api/client'

const visible = defineModel<boolean>('visible', { required: true })
const phones = shallowRef<Phones>()
const code = shallowRef<PhoneCode>()
const problem = shallowRef<Problem>()
const now = shallowRef(Date.now())

async function look() {
  const answer = await api.GET('/api/phones').catch(() => ({ data: undefined, error: unreachable }))
  phones.value = answer.data ?? phones.value
  problem.value = answer.error
}

async function show() {
  const answer = await api.POST('/api/phones/code').catch(() => ({ data: undefined, error: unreachable }))
  code.value = answer.data
  problem.value = answer.error
}

async function takeBack(phone: string) {
  const answer = await api
    .DELETE('/api/phones/{phone}', { params: { path: { phone } } })
    .catch(() => ({ error: unreachable }))
  problem.value = answer.error
  await look()
}

/** The address as a picture for the phone's camera, of the size that its letters need. */
const picture = computed(() => {
  if (!code.value) return ''
  const made = qrcode(0, 'M')
  made.addData(code.value.url)
  made.make()
  return made.createDataURL(8, 32)
})

const left = computed(() =>
  code.value ? Math.max(0, Math.round((new Date(code.value.until).getTime() - now.value) / 1000)) : 0,
)

const looking = useIntervalFn(
  async () => {
    now.value = Date.now()
    const before = phones.value?.phones.length ?? 0
    await look()
    if ((phones.value?.phones.length ?? 0) > before) code.value = undefined // it was let in
  },
  2000,
  { immediate: false },
)
watch(
  visible,
  (shown) => {
    looking.pause()
    code.value = undefined
    if (!shown) return
    void look()
    looking.resume()
  },
  { immediate: true },
)

const time = (at: string) => new Date(at).toLocaleString()
</script>

<template>
  <Dialog v-model:visible="visible" modal header="Phones" :style="{ width: 'min(560px, 94vw)' }">
    <template v-if="phones && !phones.url">
      <p>
        No phone is let in: Axtren answers this computer alone. To use it on a phone at the bench, stop it and
        start it with an address that this computer has in a network of your own:
      </p>
      <p class="fig command">./axtren-up --listen {{ phones.own[0] ?? '192.168.1.20' }}</p>
      <p v-if="phones.own.length > 1" class="label">or {{ phones.own.slice(1).join(', ') }}</p>
      <p class="soft">
        What goes over that network is not encrypted. Do this in a network that you trust, such as your own at
        home, not in one that anybody may join.
      </p>
    </template>
    <template v-else-if="phones">
      <p class="soft">
        This is for a network that you trust: what goes between a phone and this computer is not encrypted.
      </p>
      <div v-if="code && left > 0" class="code">
        <img :src="picture" alt="The code as a picture, for the phone's camera" width="220" height="220" />
        <div>
          <p>Open on the phone</p>
          <p>
            <strong>{{ phones.url }}</strong>
          </p>
          <p>and give</p>
          <p class="fig big">{{ code.code }}</p>
          <p class="label" role="status">for one phone, {{ left }} s to go</p>
        </div>
      </div>
      <p v-else class="acts">
        <Button @click="show">Show a code</Button>
        <span v-if="code" class="soft">The last code has run out.</span>
      </p>
      <h3>Let in</h3>
      <p v-if="!phones.phones.length" class="soft">No phone yet.</p>
      <ul>
        <li v-for="phone in phones.phones" :key="phone.id">
          <span
            >{{ phone.name }}, let in {{ time(phone.made_at) }}<br /><span class="label"
              >last seen {{ time(phone.seen_at) }}</span
            ></span
          >
          <Button class="quiet" :aria-label="`Take back ${phone.name}`" @click="takeBack(phone.id)"
            >Take back</Button
          >
        </li>
      </ul>
    </template>
    <p v-if="problem" class="fault" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
  </Dialog>
</template>

<style scoped>
.command {
  margin: 8px 0;
  padding: 10px 12px;
  background: var(--deck);
}

.code {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
  margin: 10px 0;
}

.code img {
  background: #fff;
}

.big {
  font-size: 2.125rem;
  font-weight: 700;
}

h3 {
  font-size: 1.125rem;
  margin-top: 14px;
}

ul {
  list-style: none;
  margin: 0;
  padding: 0;
}

li {
  display: flex;
  justify-content: space-between;
  align-items: center;
  gap: 12px;
  padding: 6px 0;
  border-top: 1px solid var(--rule);
}
</style>
