<script setup lang="ts">
/** What stands on every page: the place, and what a person has to be told wherever they are. */
import { useEventListener } from '@vueuse/core'
import Button from 'primevue/button'

import { useNotices } from './stores/notices'

const notices = useNotices()

/** A file that is dropped where nothing takes it must not take the place of the page. */
function over(event: DragEvent) {
  event.preventDefault()
}
function dropped(event: DragEvent) {
  if (event.defaultPrevented) return // a place took it
  event.preventDefault()
  if (event.dataTransfer?.files.length)
    notices.say('A file is imported by dropping it on the models.', { path: '/', words: 'Go to the models' })
}
useEventListener('dragover', over)
useEventListener('drop', dropped)
useEventListener('vite:preloadError', () =>
  notices.say(
    'A part of this page did not come from the server, which may have been renewed. Load the page again.',
  ),
)
</script>

<template>
  <RouterView />
  <div v-if="notices.list.length" class="notices" role="alert">
    <p v-for="notice in notices.list" :key="notice.key">
      <span>{{ notice.words }}</span>
      <RouterLink v-if="notice.to" :to="notice.to.path" @click="notices.close(notice.key)">{{
        notice.to.words
      }}</RouterLink>
      <Button class="quiet" @click="notices.close(notice.key)">Close</Button>
    </p>
  </div>
</template>

<style scoped>
.notices {
  position: fixed;
  z-index: 1200;
  left: 50%;
  bottom: 16px;
  transform: translateX(-50%);
  width: min(680px, 94vw);
  background: var(--sheet);
  border: 1.5px solid var(--ink);
  border-left-width: 6px;
  border-radius: 4px;
}

.notices p {
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 8px 14px;
}

.notices span {
  flex: 1;
}
</style>
