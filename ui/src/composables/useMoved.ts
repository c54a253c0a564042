import { shallowRef, watch } from 'vue'

import { useBench, type Hand } from '../stores/bench'

/** Listens for what a person moves: take says whether that was it. */
export function useMoved(take: (control: string, at: Hand) => boolean) {
  const bench = useBench()
  const listening = shallowRef(false)

  watch([() => bench.moving, () => bench.moving && bench.hands[bench.moving]], ([control, at]) => {
    if (listening.value && control && at !== undefined && take(control, at)) listening.value = false
  })

  return { listening }
}
