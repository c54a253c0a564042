<script setup lang="ts">
/** An address that leads nowhere: what is so, and the way back. */
import { computed } from 'vue'

const props = defineProps<{ why?: 'unknown' | 'removed' | 'broken'; name?: string }>()

const title = computed(
  () =>
    ({
      unknown: 'There is no such model',
      removed: `${props.name || 'This model'} was removed`,
      broken: 'This model cannot be read',
    })[props.why ?? 'unknown'],
)
</script>

<template>
  <div class="nothing" role="main">
    <h1>{{ why ? title : 'There is nothing at this address' }}</h1>
    <p v-if="why === 'removed'">
      Somebody removed it while it was open here. It can be put back there, on the page that removed it out,
      as long as that page is open.
    </p>
    <p v-else-if="why === 'broken'">
      What is kept of it is not lost: in Models it can be exported as a file, mended, and imported again.
    </p>
    <p v-else-if="why">It may have been removed, or the address is not whole.</p>
    <p v-else>Part of the address may be missing.</p>
    <p><RouterLink class="act" to="/">Go to the models</RouterLink></p>
  </div>
</template>

<style scoped>
.nothing {
  max-width: 60ch;
  margin: 12vh auto 0;
  padding: 0 22px;
}

h1 {
  font-size: 1.625rem;
}

.act {
  color: var(--petrol);
}
</style>
