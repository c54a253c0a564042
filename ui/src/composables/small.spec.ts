import { createPinia, setActivePinia } from 'pinia'
import { beforeEach, describe, expect, it } from 'vitest'

import { useNotices } from '../stores/notices'
import { useDrafts } from './useDrafts'
import { useOnce } from './useOnce'

const click = (detail: number) => new MouseEvent('click', { detail })

describe('once', () => {
  it('lets a double click make one, however fast the first is answered', async () => {
    const { once } = useOnce()
    let made = 0
    const make = () => Promise.resolve(made++)
    await once(click(1), make)
    await once(click(2), make)
    expect(made).toBe(1)
    await once(click(1), make)
    expect(made).toBe(2)
  })

  it('begins no second while one is on its way, and goes on after one that failed', async () => {
    const { once } = useOnce()
    let made = 0
    let done = () => {}
    const slow = () => new Promise<void>((end) => (done = end)).then(() => made++)
    const first = once(click(1), slow)
    await once(click(1), slow)
    done()
    await first
    expect(made).toBe(1)
    await expect(once(click(1), () => Promise.reject(new Error('no')))).rejects.toThrow('no')
    await once(undefined, () => Promise.resolve(made++))
    expect(made).toBe(2)
  })
})

describe('drafts', () => {
  beforeEach(() => localStorage.clear())

  it('are kept by model, the newest few of them', () => {
    for (let i = 0; i < 8; i++) useDrafts(() => `m${i}`).keep({ text: `t${i}`, revision: i, at: i })
    expect(useDrafts(() => 'm7').find()).toEqual({ text: 't7', revision: 7, at: 7 })
    expect(useDrafts(() => 'm0').find()).toBeUndefined()
    expect(Object.keys(localStorage)).toHaveLength(5)
    useDrafts(() => 'm7').drop()
    expect(useDrafts(() => 'm7').find()).toBeUndefined()
    expect(useDrafts(() => 'm6').find()?.text).toBe('t6')
  })

  it('that are none are not taken for one', () => {
    for (const text of ['null', '3', '{"text": 3}', '{', '{"text":"a","revision":"1","at":2}']) {
      localStorage.setItem('axtren-draft-m', text)
      expect(useDrafts(() => 'm').find()).toBeUndefined()
    }
  })
})

describe('notices', () => {
  it('are few, each once, until they are closed', () => {
    setActivePinia(createPinia())
    const notices = useNotices()
    for (let i = 0; i < 9; i++) notices.say(`n${i}`)
    notices.say('n8')
    expect(notices.list.map((n) => n.words)).toEqual(['n4', 'n5', 'n6', 'n7', 'n8'])
    notices.close(notices.list[0]!.key)
    expect(notices.list.map((n) => n.words)).toEqual(['n5', 'n6', 'n7', 'n8'])
  })
})
