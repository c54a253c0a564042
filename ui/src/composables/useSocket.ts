import { onScopeDispose, shallowRef } from 'vue'

/**
 * A WebSocket that comes back by itself: after 0.3 s, then ever slower up to 3 s. `opened` is called each time
 * it is there again and must say hello.
 */
export function useSocket(url: string, opened: () => void, message: (text: string) => void) {
  const connected = shallowRef(false)
  let socket: WebSocket | undefined
  let wait = 300
  let timer = 0
  let closed = false

  function connect() {
    socket = new WebSocket(url)
    socket.onopen = () => {
      wait = 300
      connected.value = true
      opened()
    }
    socket.onmessage = (event) => message(event.data)
    socket.onclose = () => {
      connected.value = false
      if (closed) return
      timer = window.setTimeout(connect, wait)
      wait = Math.min(wait * 1.6, 3000)
    }
  }

  function send(value: unknown) {
    if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(value))
  }

  function close() {
    closed = true
    window.clearTimeout(timer)
    socket?.close()
  }

  connect()
  onScopeDispose(close)
  return { connected, send, close }
}
