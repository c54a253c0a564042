'use strict'
// What the pages share that are carried without a network: making parts of a page, and the code of what was ticked.
const carried = (() => {
  const element = (name, words, kind) => {
    const made = document.createElement(name)
    if (words) made.textContent = words
    if (kind) made.className = kind
    return made
  }

  /** The code of docs/format.md, sections 14 and 34. */
  const code = (version, numbers, mark, ticks) => {
    const bytes = [version]
    const varint = (v) => {
      for (; v > 127; v = Math.floor(v / 128)) bytes.push((v % 128) | 128)
      bytes.push(v)
    }
    numbers.forEach(varint)
    bytes.push(mark >> 8, mark & 255)
    let on = false
    let run = 0
    for (const ticked of ticks.flat()) {
      if (ticked !== on) {
        varint(run)
        on = ticked
        run = 0
      }
      run++
    }
    varint(run)
    const check = sum(bytes)
    bytes.push((check >> 8) & 255, check & 255)
    let text = ''
    let bits = 0
    let have = 0
    for (const byte of bytes) {
      bits = (bits << 8) | byte
      for (have += 8; have >= 5; have -= 5) text += '0123456789ABCDEFGHJKMNPQRSTVWXYZ'[(bits >> (have - 5)) & 31]
      bits &= (1 << have) - 1
    }
    if (have) text += '0123456789ABCDEFGHJKMNPQRSTVWXYZ'[(bits << (5 - have)) & 31]
    return text.match(/.{1,4}/g).join('-')
  }

  /** CRC 32 of IEEE 802.3. */
  const sum = (bytes) => {
    let crc = -1
    for (const byte of bytes) {
      crc ^= byte
      for (let k = 0; k < 8; k++) crc = (crc >>> 1) ^ (crc & 1 ? 0xedb88320 : 0)
    }
    return ~crc >>> 0
  }

  /** Draws a code for a camera. */
  const draw = (qr, text) => {
    const made = qrcode(0, 'M')
    made.addData(text, 'Byte')
    made.make()
    const n = made.getModuleCount()
    qr.width = qr.height = n * 4
    const ink = qr.getContext('2d')
    ink.fillStyle = '#fff'
    ink.fillRect(0, 0, qr.width, qr.height)
    ink.fillStyle = '#000'
    for (let y = 0; y < n; y++) for (let x = 0; x < n; x++) if (made.isDark(y, x)) ink.fillRect(x * 4, y * 4, 4, 4)
  }

  /** What is said where a browser keeps nothing. */
  const told = () => {
    const made = element('p', 'This browser keeps nothing for a page opened in this way: ticks last while the page is open. Take the code or the file home before you close it; it prints as well.', 'told')
    made.id = 'told'
    return made
  }

  /** Hands a file to the person. */
  const hand = (name, text) => {
    const link = element('a')
    link.href = URL.createObjectURL(new Blob([text], { type: 'application/json' }))
    link.download = name
    link.click()
  }

  /** Reads the ticks that the browser keeps under a key, column by column, and gives what keeps them. */
  const keeper = (key, ticks, told) => {
    let keeps = true
    try {
      JSON.parse(localStorage.getItem(key) ?? '[]').forEach((column, c) =>
        column.forEach((place) => place < ticks[c].length && (ticks[c][place] = true)),
      )
    } catch {
      keeps = false
    }
    return () => {
      try {
        localStorage.setItem(key, JSON.stringify(ticks.map((column) => column.flatMap((on, i) => (on ? [i] : [])))))
      } catch {
        keeps = false
      }
      told.hidden = keeps
    }
  }

  return { element, code, draw, told, hand, keeper }
})()
