import { onScopeDispose, shallowRef } from 'vue'

/** How often it is asked whether anybody is there, when it is said that nobody is, and when to begin anew. */
const beatEvery = 700
const silentAfter = 2000
const lostAfter = 8000
const connectWithin = 5000

/** What a socket tells whoever uses it. */
export interface SocketHooks {
  /** It is there, again: say hello. */
  opened: () => void
  message: (text: string) => void
  /** It was closed for good, with this code. Others come back by themselves. */
  ended?: (code: number) => void
  /** It could not be opened, or was lost. */
  lost?: () => void
}

/**
 * A WebSocket that comes back by itself: after 0.3 s, then ever slower up to 3 s. A server that says nothing,
 * though it is asked, is `silent`; after a while the connection is begun anew.
 */
export function useSocket(url: string, hooks: SocketHooks, final: readonly number[] = []) {
  const connected = shallowRef(false)
  const silent = shallowRef(false)
  let socket: WebSocket | undefined
  let wait = 300
  let timer = 0
  let closed = false
  let heard = Date.now()
  let looked = Date.now()

  function connect() {
    window.clearTimeout(timer)
    const own = new WebSocket(url)
    socket = own
    heard = Date.now()
    timer = window.setTimeout(() => own.readyState === 0 && drop(own), connectWithin)
    own.onopen = () => {
      window.clearTimeout(timer)
      wait = 300
      heard = Date.now()
      connected.value = true
      hooks.opened()
    }
    own.onmessage = (event) => {
      heard = Date.now()
      silent.value = false
      hooks.message(event.data)
    }
    own.onclose = (event?: CloseEvent) => {
      if (socket !== own) return
      connected.value = silent.value = false
      if (closed) return
      if (event && final.includes(event.code)) {
        closed = true
        hooks.ended?.(event.code)
        return
      }
      again()
    }
  }

  function again() {
    window.clearTimeout(timer)
    timer = window.setTimeout(connect, wait)
    wait = Math.min(wait * 1.6, 3000)
    hooks.lost?.()
  }

  /** Gives a connection up without waiting for its end: what does not answer does not close either. */
  function drop(own: WebSocket) {
    if (socket !== own || closed) return
    socket = undefined
    own.close()
    connected.value = silent.value = false
    again()
  }

  function beat() {
    const now = Date.now()
    const slept = now - looked > 3 * beatEvery // a page out of sight is woken seldom
    looked = now
    if (socket?.readyState !== 1) return
    if (now - heard >= beatEvery) send({ t: 'beat' })
    if (slept) return
    silent.value = now - heard > silentAfter
    if (now - heard > lostAfter) drop(socket)
  }
  const beats = window.setInterval(beat, beatEvery)

  function send(value: unknown) {
    if (socket?.readyState === 1) socket.send(JSON.stringify(value))
  }

  function close() {
    closed = true
    window.clearTimeout(timer)
    window.clearInterval(beats)
    socket?.close()
  }

  connect()
  onScopeDispose(close)
  return { connected, silent, send, close }
}
