import { CONDITIONS } from '../../core/fields/conditions/index.ts'
import { DRIVERS } from '../../core/fields/drivers/index.ts'
import { TOOLS } from '../../tools/index.ts'
import { SHORTCUTS } from '../shortcuts.ts'
import { GUIDE_PAGES, searchGuide } from './pages.ts'

const textOf = (key: string) => JSON.stringify(GUIDE_PAGES.find((page) => page.key === key))

describe('the guide', () => {
  it('tells of every key, tool, condition and driver', () => {
    for (const { keys, does } of Object.values(SHORTCUTS)) for (const one of [keys, does]) expect(textOf('keys')).toContain(JSON.stringify(one).slice(1, -1))
    for (const { keys, help } of TOOLS.all) for (const one of [keys, help]) expect(textOf('keys')).toContain(JSON.stringify(one).slice(1, -1))
    for (const { label } of CONDITIONS.all) expect(textOf('conditions')).toContain(label)
    for (const { label } of DRIVERS.all) expect(textOf('all-drivers')).toContain(label)
  })

  it('no key stands for two things', () => {
    const keys = [...Object.values(SHORTCUTS), ...TOOLS.all].map((one) => one.keys.toUpperCase())
    // D takes the tool Draw up, and draws a patch with it: one act.
    const twice = keys.filter((key, i) => keys.indexOf(key) !== i)
    expect(twice).toEqual(['D'])
  })

  it('is found by its words, in any order, titles first', () => {
    expect(searchGuide('').length).toBe(GUIDE_PAGES.length)
    expect(searchGuide('proportions 60')[0].key).toBe('what')
    expect(searchGuide('beacons drivers')[0].key).toBe('drivers')
    expect(searchGuide('cross ENTER').map(({ key }) => key)).toEqual(expect.arrayContaining(['outlines', 'why']))
    expect(searchGuide('zeppelin')).toEqual([])
  })

  it('has short pages with keys of their own', () => {
    expect(new Set(GUIDE_PAGES.map(({ key }) => key)).size).toBe(GUIDE_PAGES.length)
    for (const { text } of GUIDE_PAGES) expect(text.join(' ').length).toBeLessThan(1100)
  })
})
