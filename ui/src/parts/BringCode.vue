<script setup lang="ts">
/** What was ticked in a carried file comes back: its code typed, scanned, or in a file. */
import Button from 'primevue/button'
import { shallowRef } from 'vue'

import type { Problem } from '../api/client'

/** Brings a code back, and gives what is wrong with it. */
const props = defineProps<{ bring: (code: string) => Promise<Problem | undefined> }>()
const code = shallowRef('')
const problem = shallowRef<Problem>()
const scanning = shallowRef('')

async function take(text: string) {
  problem.value = await props.bring(text)
  if (!problem.value) code.value = ''
}

async function takeFile(event: Event) {
  const box = event.target as HTMLInputElement
  const text = await box.files?.[0]?.text()
  box.value = ''
  if (!text) return
  try {
    const file: unknown = JSON.parse(text)
    if (file && typeof file === 'object' && 'code' in file && typeof file.code === 'string')
      return take(file.code)
  } catch {
    // said below
  }
  problem.value = {
    type: 'about:blank',
    status: 422,
    title: 'This is no file of ticks',
    detail: 'take the file that the carried page kept',
  }
}

/** The camera of this computer reads the code off the phone, where the browser can do that. */
interface Reader {
  detect(from: HTMLVideoElement): Promise<{ rawValue: string }[]>
}
const readers = (window as { BarcodeDetector?: new (of: { formats: string[] }) => Reader }).BarcodeDetector
async function scan() {
  if (!readers) return
  scanning.value = 'Hold the code before the camera.'
  let stream: MediaStream | undefined
  try {
    stream = await navigator.mediaDevices.getUserMedia({ video: true })
    const video = document.createElement('video')
    video.srcObject = stream
    await video.play()
    const reader = new readers({ formats: ['qr_code'] })
    for (let n = 0; n < 300 && scanning.value; n++) {
      const found = await reader.detect(video)
      if (found[0]) {
        await take(found[0].rawValue)
        break
      }
      await new Promise((next) => setTimeout(next, 100))
    }
    scanning.value = ''
  } catch {
    scanning.value = 'The camera cannot be used here; type the code instead.'
  } finally {
    stream?.getTracks().forEach((track) => track.stop())
  }
}
</script>

<template>
  <form class="acts" @submit.prevent="take(code)">
    <label class="field inline"
      >Code <input v-model="code" class="box code" autocomplete="off" spellcheck="false"
    /></label>
    <Button class="quiet" type="submit" :disabled="!code.trim()">Bring back</Button>
    <label class="button file"
      >Bring a file<input type="file" accept=".json,application/json" @change="takeFile"
    /></label>
    <Button v-if="readers" class="quiet" @click="scan">Scan</Button>
  </form>
  <p v-if="scanning" role="status">{{ scanning }}</p>
  <p v-if="problem" class="fault" role="alert">{{ problem.title }}. {{ problem.detail }}</p>
</template>

<style scoped>
.acts {
  align-items: flex-start;
}

.code {
  width: min(340px, 60vw);
  font-family: var(--mono);
  text-transform: uppercase;
}
</style>
