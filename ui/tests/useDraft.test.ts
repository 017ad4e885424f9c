/** Drafts: edits that overtake each other, a server that is away, two windows. */
import { afterEach, beforeEach, describe, expect, it, vi } from 'vitest'
import type { Recipe } from '../src/api/client'
import { useDraft, type DraftHandle } from '../src/ledger/useDraft'
import { drafts } from '../src/keep/store'
import { watchEffect } from 'vue'
import { alone, Server, settle } from './server'

vi.mock('@tanstack/vue-query', async (original) => ({
  ...(await original<typeof import('@tanstack/vue-query')>()),
  useQueryClient: () => ({ invalidateQueries: () => undefined }),
}))

const names = (r: Recipe | null) => r?.design.portions.map((p) => p.name)
const recipe = (...portions: string[]) =>
  ({
    name: 'Mine',
    superfat: 0.05,
    fats: [],
    design: { portions: portions.map((name) => ({ name })) },
  }) as unknown as Recipe
let server: Server
let id = ''
let n = 0
let ended: () => void

const weights = (sheet: object | null) => ({
  weighing: { whole: 1, sheet, faults: [], cautions: [], fat_grams: [] },
})
async function opened(first: Recipe, revision = 1, byHand = false): Promise<DraftHandle> {
  server.readily['GET /api/recipes'] = () => [
    200,
    { id, revision, versions: 0, pours: 0, running: null, recipe: first },
  ]
  if (!byHand) server.readily['POST /api/weigh'] = () => [200, weights(null)]
  const { it: draft, end } = alone(() => useDraft(id))
  ended = end
  await settle()
  return draft
}
const take = (draft: DraftHandle, name: string) =>
  draft.adjust((r) => {
    const row = r.design.portions.findIndex((p) => p.name === name)
    return row < 0 ? null : { kind: 'take_portion', row }
  })
/** What the server's rule does: the row is gone. */
const without = (body: Record<string, unknown>) => {
  const of = structuredClone(body.recipe) as Recipe
  of.design.portions.splice((body.act as { row: number }).row, 1)
  return { recipe: of, weighed: weights(null) }
}

beforeEach(() => {
  server = new Server()
  id = `recipe-${n++}`
})
afterEach(() => ended())

describe('what is typed', () => {
  it('is drawn once, with what it weighs; with no answer it is drawn all the same', async () => {
    const draft = await opened(recipe('A'))
    delete server.readily['POST /api/weigh']
    let drawn: (number | undefined)[] = []
    const { end } = alone(() =>
      watchEffect(() => void drawn.push(draft.recipe.value?.superfat, Number(draft.stale.value))),
    )
    drawn = []
    draft.edit('/superfat', (d) => void (d.superfat = 0.08))
    expect(draft.recipe.value?.superfat).toBe(0.08)
    await settle()
    expect(drawn).toEqual([])
    await server.next('POST', '/api/weigh').answer(200, weights({ total: 1 }))
    expect(drawn).toEqual([0.08, 0])
    drawn = []
    draft.edit('/superfat', (d) => void (d.superfat = 0.09))
    await vi.waitFor(() => expect(drawn).toEqual([0.09, 1]))
    end()
  })
})

describe('edits the server reckons', () => {
  it('wait for one another and are all made', async () => {
    const draft = await opened(recipe('A', 'B', 'C', 'D'))
    void take(draft, 'B')
    void take(draft, 'C')
    await settle()
    expect(server.waiting('POST', '/api/adjust')).toBe(1)
    const first = server.next('POST', '/api/adjust')
    await first.answer(200, without(first.body))
    const second = server.next('POST', '/api/adjust')
    expect(second.body.act).toEqual({ kind: 'take_portion', row: 1 })
    await second.answer(200, without(second.body))
    expect(names(draft.recipe.value)).toEqual(['A', 'D'])
    draft.undo()
    expect(names(draft.recipe.value)).toEqual(['A', 'C', 'D'])
  })

  it('are made again on what was typed meanwhile', async () => {
    const draft = await opened(recipe('A', 'B'))
    void take(draft, 'B')
    await settle()
    draft.edit('/superfat', (d) => void (d.superfat = 0.08))
    const stale = server.next('POST', '/api/adjust')
    await stale.answer(200, without(stale.body))
    expect(draft.recipe.value?.superfat).toBe(0.08)
    const again = server.next('POST', '/api/adjust')
    await again.answer(200, without(again.body))
    expect([names(draft.recipe.value), draft.recipe.value?.superfat]).toEqual([['A'], 0.08])
  })

  it('say so when they were not made', async () => {
    const draft = await opened(recipe('A', 'B'))
    void take(draft, 'Gone')
    await settle()
    expect(draft.faultsAt('')[0]?.message).toContain('no longer there')
    void take(draft, 'B')
    await settle()
    await server.next('POST', '/api/adjust').lose()
    expect(draft.faultsAt('')[0]?.message).toContain('was not made')
    expect(names(draft.recipe.value)).toEqual(['A', 'B'])
  })

  it('typed anew in one field start from where that typing began', async () => {
    const draft = await opened(recipe('A'))
    const type = (share: number) =>
      draft.adjust({ kind: 'fat_share', row: 0, share, keep: [] }, '/fats/olive/share', (d) => {
        d.superfat = share
      })
    const leave = () => document.dispatchEvent(new Event('focusout'))
    void type(0.1)
    expect(server.waiting('POST', '/api/adjust'), 'the hand has not come to rest').toBe(0)
    expect(draft.current.value, 'no figure stands beside what is being typed').toBe(false)
    leave()
    await settle()
    const first = server.next('POST', '/api/adjust')
    void type(0.2)
    void type(0.25)
    await first.answer(200, { recipe: { ...recipe('A'), superfat: 0.1 }, weighed: weights(null) })
    expect(draft.recipe.value?.superfat, 'an answer older than the newest key').toBe(0.05)
    leave()
    await settle()
    const last = server.next('POST', '/api/adjust')
    expect([(last.body.act as { share: number }).share, (last.body.recipe as Recipe).superfat]).toEqual([
      0.25, 0.05,
    ])
    await last.answer(200, { recipe: { ...recipe('A'), superfat: 0.25 }, weighed: weights(null) })
    expect(draft.current.value).toBe(true)
    draft.undo()
    expect(draft.recipe.value?.superfat).toBe(0.05)
    void type(0.3)
    leave()
    await settle()
    draft.undo()
    await server
      .next('POST', '/api/adjust')
      .answer(200, { recipe: { ...recipe('A'), superfat: 0.3 }, weighed: weights(null) })
    expect(draft.recipe.value?.superfat, 'undone before it was answered').toBe(0.05)
    void type(0.3)
    leave()
    await settle()
    await server.next('POST', '/api/adjust').lose()
    expect(draft.recipe.value?.superfat, 'what was typed stands all the same').toBe(0.3)
  })
})

describe('weights', () => {
  const type = (draft: DraftHandle, superfat: number) =>
    draft.edit('/superfat', (d) => void (d.superfat = superfat))

  it('are asked for one at a time, the newest last, and never wait for a forecast', async () => {
    const draft = await opened(recipe('A'), 1, true)
    await server.next('POST', '/api/weigh').answer(200, weights({ naoh: 100 }))
    await vi.waitFor(() => expect(server.waiting('POST', '/api/forecast')).toBe(1))
    for (const share of [0.06, 0.07, 0.08]) type(draft, share)
    await settle()
    expect(server.waiting('POST', '/api/weigh'), 'at most one is on its way').toBe(1)
    expect(draft.current.value, 'of what no longer stands there').toBe(false)
    await server.next('POST', '/api/weigh').answer(200, weights({ naoh: 99 }))
    expect(draft.current.value).toBe(false)
    const last = server.next('POST', '/api/weigh')
    expect((last.body.recipe as Recipe).superfat).toBe(0.08)
    await last.answer(200, weights({ naoh: 97 }))
    expect([draft.current.value, draft.sheet.value]).toEqual([true, { naoh: 97 }])
    expect(draft.forecastStale.value, 'the forecast is still that of before').toBe(true)
    await server.next('POST', '/api/forecast').answer(200, { forecast: null })
    await vi.waitFor(() => expect(server.waiting('POST', '/api/forecast')).toBe(1))
    await server.next('POST', '/api/forecast').answer(200, { forecast: null })
    expect(draft.forecastStale.value).toBe(false)
  })

  it('are not shown beside a server that does not answer, nor beside what cannot be read', async () => {
    const draft = await opened(recipe('A'), 1, true)
    await server.next('POST', '/api/weigh').answer(200, weights({ naoh: 100 }))
    expect(draft.sheet.value).not.toBeNull()
    draft.readable('field', '/superfat', 'Not a number.')
    expect([draft.sheet.value, draft.current.value]).toEqual([null, false])
    draft.readable('field', '/superfat', null)
    type(draft, 0.06)
    await settle()
    await server.next('POST', '/api/weigh').lose()
    expect([draft.sheet.value, draft.current.value, !!draft.unreachable.value]).toEqual([null, false, true])
    type(draft, 0.07)
    await settle()
    await server
      .next('POST', '/api/weigh')
      .answer(429, { title: 'Too many', status: 429, detail: 'wait', errors: [] })
    expect([draft.sheet.value, draft.unreachable.value]).toEqual([null, 'wait'])
    type(draft, 0.08)
    await settle()
    await server.next('POST', '/api/weigh').answer(200, weights({ naoh: 98 }))
    expect([draft.current.value, draft.sheet.value, draft.unreachable.value]).toEqual([
      true,
      { naoh: 98 },
      null,
    ])
  })
})

describe('saving', () => {
  const edit = (draft: DraftHandle, superfat: number) => draft.edit('x', (d) => void (d.superfat = superfat))

  it('is one at a time, each on the revision before it', async () => {
    const draft = await opened(recipe('A'))
    edit(draft, 0.06)
    void draft.save()
    await settle()
    edit(draft, 0.07)
    void draft.save()
    void draft.save()
    await settle()
    expect(server.waiting('PUT', '/api/recipes')).toBe(1)
    await server.next('PUT', '/api/recipes').answer(200, { id, revision: 2 })
    const second = server.next('PUT', '/api/recipes')
    expect([second.body.revision, (second.body.recipe as Recipe).superfat]).toEqual([2, 0.07])
    await second.answer(200, { id, revision: 3 })
    expect([server.waiting('PUT', '/api/recipes'), draft.saveState.value]).toEqual([0, 'saved'])
    expect(await drafts.get(id)).toBeUndefined()
  })

  it('whose answer was lost is no other window', async () => {
    const draft = await opened(recipe('A'))
    edit(draft, 0.06)
    void draft.save()
    await settle()
    await server.next('PUT', '/api/recipes').lose()
    expect(draft.saveState.value).toBe('offline')
    edit(draft, 0.07)
    server.readily['GET /api/recipes'] = () => [
      200,
      { id, revision: 2, recipe: { ...recipe('A'), superfat: 0.06 } },
    ]
    void draft.save()
    await settle()
    await server.next('PUT', '/api/recipes').answer(409, { title: '', status: 409, detail: 'changed' })
    const again = server.next('PUT', '/api/recipes')
    expect([again.body.revision, draft.theirs.value]).toEqual([2, null])
    await again.answer(200, { id, revision: 3 })
    expect(draft.saveState.value).toBe('saved')
  })

  it.each(['keepMine', 'keepTheirs'] as const)('in two windows is a choice: %s', async (which) => {
    const draft = await opened(recipe('A'))
    edit(draft, 0.06)
    server.readily['GET /api/recipes'] = () => [
      200,
      { id, revision: 5, recipe: { ...recipe('A'), superfat: 0.2 } },
    ]
    void draft.save()
    await settle()
    await server.next('PUT', '/api/recipes').answer(409, { title: '', status: 409, detail: 'changed' })
    expect([draft.saveState.value, draft.recipe.value?.superfat]).toEqual(['conflict', 0.06])
    void draft[which]()
    await settle()
    if (which === 'keepMine') {
      const put = server.next('PUT', '/api/recipes')
      expect(put.body.revision).toBe(5)
      await put.answer(200, { id, revision: 6 })
    }
    expect([draft.saveState.value, draft.recipe.value?.superfat]).toEqual([
      'saved',
      which === 'keepMine' ? 0.06 : 0.2,
    ])
    draft.undo()
    expect(draft.recipe.value?.superfat, 'the other one is one step back').toBe(
      which === 'keepMine' ? 0.2 : 0.06,
    )
  })

  it('outlives the page when the server is away', async () => {
    const draft = await opened(recipe('A'))
    edit(draft, 0.09)
    void draft.save()
    await settle()
    await server.next('PUT', '/api/recipes').lose()
    ended()
    await settle()
    server.asked = []
    const again = await opened(recipe('A'))
    expect(again.recipe.value?.superfat).toBe(0.09)
    await server.next('PUT', '/api/recipes').answer(200, { id, revision: 2 })
    expect(again.saveState.value).toBe('saved')
  })

  it('is undone also after the page was left, unless another recipe stands there by then', async () => {
    const draft = await opened(recipe('A'))
    edit(draft, 0.09)
    ended()
    await settle()
    const now = { ...recipe('A'), superfat: 0.09 }
    const again = await opened(now, 2)
    again.undo()
    expect([again.recipe.value?.superfat, again.canRedo.value]).toEqual([0.05, true])
    again.redo()
    expect(again.recipe.value?.superfat).toBe(0.09)
    ended()
    await settle()
    await drafts.drop(id)
    const other = await opened({ ...now, superfat: 0.2 }, 3)
    expect(other.canUndo.value).toBe(false)
  })

  it('of two tabs are kept apart, until one of them is closed', async () => {
    const kept = (superfat: number) => ({ id, revision: 1, recipe: { ...recipe('A'), superfat } })
    await drafts.put(kept(0.09))
    const mine = sessionStorage.getItem('round-stone-tab') ?? ''
    const held = [{ name: `tab ${JSON.parse(mine) as string}` }]
    vi.stubGlobal('navigator', { locks: { query: () => Promise.resolve({ held }) } })
    sessionStorage.clear()
    vi.resetModules()
    const { drafts: other } = await import('../src/keep/store')
    expect(await other.get(id), 'what is being typed there is not taken over').toBeUndefined()
    await other.put(kept(0.03))
    await other.drop(id)
    expect((await drafts.get(id))?.recipe.superfat).toBe(0.09)
    held.pop()
    expect((await other.get(id))?.recipe.superfat, 'the tab was closed').toBe(0.09)
    vi.unstubAllGlobals()
    await drafts.drop(id)
  })

  it('of another window meanwhile asks on opening', async () => {
    await drafts.put({ id, revision: 1, recipe: { ...recipe('A'), superfat: 0.09 } })
    const draft = await opened({ ...recipe('A'), superfat: 0.2 }, 4)
    expect([
      draft.saveState.value,
      draft.recipe.value?.superfat,
      draft.theirs.value?.recipe.superfat,
    ]).toEqual(['conflict', 0.09, 0.2])
  })
})
