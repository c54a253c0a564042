'use strict'
// The carried walk: its steps one after the other, what was seen of each part, kept in this page, and written as a code.
;(() => {
  const given = JSON.parse(document.getElementById('given').textContent)
  const { element } = carried
  const columns = ['as it should', 'otherwise']
  const rows = given.steps.flatMap((step) => [
    ...step.parts.map((part) => ({ label: part.label, says: part.should, channel: part.channel, reads: part.display })),
    ...(step.rest ? [{ label: 'All else', says: step.rest.replace(/^All else /, ''), channel: 0, reads: '' }] : []),
  ])
  const ticks = columns.map(() => rows.map(() => false))
  const told = carried.told()
  const keep = carried.keeper(`axtren-walk-${given.walk}-${given.mark}`, ticks, told)
  const main = document.querySelector('main')
  const count = element('p', '', 'count')
  const codeText = element('p', '', 'code')
  const qr = element('canvas', '', 'qr')

  const show = () => {
    const seen = rows.filter((_, i) => ticks.some((column) => column[i])).length
    const other = ticks[1].filter(Boolean).length
    count.textContent = `${seen} of ${rows.length} seen${other ? `, ${other} otherwise` : ''}`
    codeText.textContent = carried.code(3, [given.revision, 0], given.mark, ticks)
    carried.draw(qr, codeText.textContent)
  }

  /** What was seen of one thing: one of the two, or neither. */
  const choose = (place, column, on, boxes) => {
    columns.forEach((_, c) => {
      ticks[c][place] = on && c === column
      boxes[c].checked = ticks[c][place]
    })
    keep()
    show()
  }
  const thing = (row, place) => {
    const box = element('div', '', 'thing')
    const line = element('div', '', 'line')
    const what = element('span', '', 'what')
    what.append(element('b', row.label), ` ${row.says}`)
    line.append(what)
    if (row.channel) line.append(element('span', `Ch ${row.channel} reads`, 'soft'), element('span', row.reads, 'value'))
    const choices = element('div', '', 'ticks')
    const boxes = columns.map((word, c) => {
      const label = element('label')
      const tick = document.createElement('input')
      tick.type = 'checkbox'
      tick.checked = ticks[c][place]
      tick.setAttribute('aria-label', `${row.label}, ${word}`)
      label.append(tick, word)
      choices.append(label)
      return tick
    })
    boxes.forEach((tick, c) => tick.addEventListener('change', () => choose(place, c, tick.checked, boxes)))
    box.append(line, choices)
    return { box, boxes }
  }

  main.append(element('h1', `${given.name}, tried on the bench`))
  main.append(element('p', [given.about, `revision ${given.revision}`].filter(Boolean).join(' · '), 'soft'))
  main.append(told, count)
  if (given.safe.length) {
    main.append(element('h2', 'First, make it safe'))
    main.append(...given.safe.map((line) => element('p', line, 'caution')))
  }
  main.append(...given.taught.map((line) => element('p', line, 'soft')))
  let place = 0
  given.steps.forEach((step, n) => {
    main.append(element('h2', `${n + 1}. ${step.does.join(' ')}`))
    const first = place
    const things = []
    for (let k = step.parts.length + (step.rest ? 1 : 0); k > 0; k--) things.push(thing(rows[place], place++))
    const all = element('button', 'All as it should')
    all.addEventListener('click', () =>
      things.forEach(({ boxes }, k) => ticks[1][first + k] || choose(first + k, 0, true, boxes)),
    )
    main.append(...things.map((one) => one.box), all)
  })
  const home = element('section', '', 'home')
  home.append(
    element('h2', 'Bring the ticks back'),
    element('p', 'Type this code on the Bench page of this model, in this walk, scan it there, or bring the file.'),
    codeText,
    qr,
  )
  const take = element('button', 'Keep as a file')
  take.addEventListener('click', () =>
    carried.hand(
      `${given.name || 'model'}-walk.ticks.json`,
      JSON.stringify({ format: 'axtren-ticks', version: 1, walk: given.walk, code: codeText.textContent }, null, 2),
    ),
  )
  const print = element('button', 'Print')
  print.addEventListener('click', () => window.print())
  home.append(take, ' ', print)
  main.append(home)
  keep()
  show()
})()
