'use strict'
// The carried sheet: it draws what it was given, keeps ticks in this page, and writes them as a code.
;(() => {
  const given = JSON.parse(document.getElementById('given').textContent)
  const { sheet, model, revision, since, mark } = given
  const columns = ['keyed', 'read back', 'seen']
  const things = sheet.sections.flatMap((section) => section.items)
  const ticks = columns.map(() => things.map(() => false))
  const key = `axtren-ticks-${model}-${revision}-${since}-${mark}` // places are those of this very sheet
  const main = document.querySelector('main')

  const { element } = carried

  const told = carried.told()
  const keep = carried.keeper(key, ticks, told)
  const count = element('p', '', 'count')
  const codeText = element('p', '', 'code')
  const qr = element('canvas', '', 'qr')

  const show = () => {
    groups.forEach((fit) => fit())
    const done = columns.map((word, c) => `${ticks[c].filter(Boolean).length} ${word}`)
    count.textContent = `${done.join(', ')}, of ${things.length}`
    codeText.textContent = carried.code(2, [revision, since], mark, ticks)
    carried.draw(qr, codeText.textContent)
  }

  const thing = (item, place) => {
    const box = element('div', '', 'thing')
    const line = element('div', '', 'line')
    line.append(element('span', item.channel ? String(item.channel) : '', 'ch'))
    const what = element('span', item.what, 'what')
    if (item.note) what.append(element('span', ` ${item.note}`, 'soft'))
    line.append(what, element('span', item.value, item.value.length > 24 ? 'value long' : 'value'), element('span', item.us && item.us !== item.value ? `${item.us} µs` : '', 'soft'))
    const boxes = element('div', '', 'ticks')
    columns.forEach((word, c) => {
      const label = element('label')
      const tick = document.createElement('input')
      tick.type = 'checkbox'
      tick.checked = ticks[c][place]
      tick.dataset.place = place
      tick.dataset.column = c
      tick.setAttribute('aria-label', `${item.what}, ${word}`)
      tick.addEventListener('change', () => {
        ticks[c][place] = tick.checked
        keep()
        show()
      })
      label.append(tick, word)
      boxes.append(label)
    })
    box.append(line, boxes)
    return box
  }

  /** The boxes of a section that tick all in it. */
  const groups = []
  const group = (section, first) => {
    const boxes = element('div', 'all of these:', 'ticks all')
    columns.forEach((word, c) => {
      const label = element('label')
      const tick = document.createElement('input')
      tick.type = 'checkbox'
      tick.setAttribute('aria-label', `${section.title}, all ${word}`)
      const own = () => ticks[c].slice(first, first + section.items.length)
      tick.addEventListener('change', () => {
        for (let i = 0; i < section.items.length; i++) ticks[c][first + i] = tick.checked
        for (const one of document.querySelectorAll(`[data-column='${c}']`)) one.checked = ticks[c][one.dataset.place]
        keep()
        show()
      })
      groups.push(() => {
        tick.checked = own().every(Boolean)
        tick.indeterminate = !tick.checked && own().some(Boolean)
      })
      label.append(tick, word)
      boxes.append(label)
    })
    return boxes
  }

  const file = () => {
    const text = JSON.stringify({ format: 'axtren-ticks', version: 1, model, revision, since, code: codeText.textContent }, null, 2)
    carried.hand(`${sheet.name || 'model'}-revision-${revision}.ticks.json`, text)
  }

  main.append(element('h1', `${sheet.name}, what to key in`))
  main.append(element('p', [sheet.about, sheet.set, `revision ${revision}`].filter(Boolean).join(' · '), 'soft'))
  if (sheet.only) main.append(element('p', sheet.only))
  main.append(element('p', sheet.defer))
  if (sheet.saves) main.append(element('p', `This transmitter keeps a change: ${sheet.saves}.`))
  if (sheet.cuts) main.append(element('p', sheet.cuts))
  main.append(told, count)
  let place = 0
  for (const section of sheet.sections) {
    main.append(element('h2', section.title), group(section, place))
    if (section.caution) main.append(element('p', section.caution, 'caution'))
    if (section.note) main.append(element('p', section.note, 'soft'))
    for (const item of section.items) main.append(thing(item, place++))
  }
  /** What stands at the model, to be read beside it: what goes where, the leads, the power, codes of pins. */
  const list = (title, says) => {
    if (!says.length) return []
    const made = element('ul')
    made.append(...says.map((one) => element('li', one)))
    return [element('h3', title), made]
  }
  const sentence = (text) => `${text[0].toUpperCase()}${text.slice(1).replace(/\.$/, '')}.`
  const end = (row) => {
    const made = element('p', '', 'end')
    const pin = `pin ${row.pin || '–'}${row.receiver ? ` of ${row.receiver}` : ''}`
    made.append(
      element('b', `${row.label}: ${row.lever}`),
      element('br'),
      `sent on ${row.channel || '–'}, got on ${row.link || '–'}, ${pin}; on a lost signal: ${row.loss}`,
    )
    return made
  }
  const figure = (f) =>
    `${f.label}: ${Math.round(f.value * 100) / 100} ${f.unit}${f.says ? `, ${f.says}` : ''}; ${f.why}.${f.bad ? ` To do: ${f.do}.` : ''}`
  const fitted = given.fitted
  if (fitted) {
    const at = element('section', '', 'fitted')
    at.append(element('h2', 'At the model: what goes where'), element('p', fitted.stands.says))
    at.append(...fitted.stands.rows.map(end))
    for (const one of fitted.stands.keyed) at.append(...list(one.where, one.says.map(sentence)))
    at.append(element('h2', 'The leads'))
    const drawn = element('div', '', 'leads')
    drawn.innerHTML = fitted.svg
    at.append(drawn)
    if (fitted.caution) at.append(element('p', fitted.caution, 'caution'))
    at.append(...list('In words', fitted.leads.map(sentence)))
    for (const one of fitted.power)
      at.append(...list(one.title, [...one.figures, ...one.behind].map(figure).concat(one.lacks || [])))
    for (const walk of fitted.codes) {
      at.append(element('h2', `Codes of the pins of ${walk.receiver}`), ...list('First', walk.before))
      for (const pin of walk.pins) {
        if (pin.refused) at.append(element('p', `${pin.refused}.`, 'caution'))
        if (pin.test || pin.open)
          at.append(
            ...list(
              `Pin ${pin.pin} ${pin.hangs}: ${pin.says}`,
              pin.levels.map((one) => `Level ${one.level}, ${one.says}: ${one.want} flashes (${one.means}).`),
            ),
          )
      }
      at.append(...list('After that', walk.after))
    }
    main.append(at)
  }
  const home = element('section', '', 'home')
  home.append(
    element('h2', 'Bring the ticks home'),
    element('p', 'Type this code on the Sheet page of this model, scan it there, or bring the file.'),
    codeText,
    qr,
  )
  const take = element('button', 'Keep as a file')
  take.addEventListener('click', file)
  const print = element('button', 'Print')
  print.addEventListener('click', () => window.print())
  home.append(take, ' ', print)
  main.append(home)
  keep()
  show()
})()
