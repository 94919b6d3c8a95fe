import type { Rulebook } from '@/core/rulebook/language'
import { publishDraft, restoreEdition, saveDraft, showRulebook } from '@/usecases/rules/editRulebook'
import { changeWorld } from '@/usecases/shared/changeWorld'
import { requestImport } from '@/usecases/intake/importOrders'
import { pinDecision, releasePin } from '@/usecases/desk/pinDecision'
import { pinExample, repinExample, unpinExample } from '@/usecases/rules/pinnedOrders'
import { showOrder } from '@/usecases/desk/showOrder'
import { makeRig, soundOrders, type Rig } from './rig'

let rig: Rig
beforeEach(async () => {
  rig = await makeRig()
  await rig.stockShop(soundOrders(5))
  await requestImport(rig.gharry, 'mossgill-shop')
  await rig.workAll()
})
afterEach(() => rig.close())

const draft = async (): Promise<{ rulebook: Rulebook; revision: number }> => {
  const view = await showRulebook(rig.gharry)
  return { rulebook: view.draft, revision: view.revision }
}

test('publishing makes an edition and routes waiting orders again; hand pins outlive it', async () => {
  const [first] = await rig.orders()
  await pinDecision(rig.gharry, first!.id, 'picks', [{ by: 'service', service: 'heron-morning' }])
  expect((await rig.orders())[0]).toMatchObject({ service: 'heron-morning', pinned: true })
  const { rulebook, revision } = await draft()
  const saved = await saveDraft(
    rig.gharry,
    {
      ...rulebook,
      rules: [
        {
          id: 'post',
          stage: 'service',
          name: 'All by road',
          on: true,
          when: { all: [] },
          then: [{ set: 'picks', to: [{ by: 'service', service: 'heron-road' }] }],
        },
      ],
    },
    revision,
  )
  if (!saved.ok) throw new Error(saved.sentence)
  expect(await publishDraft(rig.gharry, saved.revision, 'try the post')).toMatchObject({ ok: true, edition: 2 })
  await rig.workAll()
  expect((await rig.orders()).map((order) => order.service)).toEqual([
    'heron-morning',
    'heron-road',
    'heron-road',
    'heron-road',
    'heron-road',
  ])
  const view = (await showOrder(rig.gharry, first!.id))!
  expect(view.trail.find((line) => line.decision === 'picks')).toMatchObject({
    by: 'pinned by hand',
    others: [{ rule: 'All by road', value: 'Heron Road', why: 'pinned by hand' }],
  })
  await releasePin(rig.gharry, first!.id, 'picks')
  expect((await rig.orders())[0]).toMatchObject({ service: 'heron-road', pinned: false })
  expect(await restoreEdition(rig.gharry, 1, saved.revision)).toMatchObject({ ok: true })
})

test('two people editing the same draft do not overwrite each other silently', async () => {
  const { rulebook, revision } = await draft()
  expect(await saveDraft(rig.gharry, { ...rulebook, name: 'mine' }, revision)).toMatchObject({ ok: true })
  expect(await saveDraft(rig.gharry, { ...rulebook, name: 'theirs' }, revision)).toMatchObject({
    ok: false,
    code: 'draft-changed',
  })
  expect((await draft()).rulebook.name).toBe('mine')
  expect(await publishDraft(rig.gharry, revision, '')).toMatchObject({ ok: false, code: 'draft-changed' })
})

test('a draft that makes no sense is not saved, one with errors not published', async () => {
  const { rulebook, revision } = await draft()
  expect(await saveDraft(rig.gharry, { ...rulebook, rules: [{ id: 'x' }] }, revision)).toMatchObject({
    ok: false,
    code: 'bad-rulebook',
    sentence: expect.stringContaining('rules › 0 › stage') as string,
  })
  const saved = await saveDraft(
    rig.gharry,
    {
      ...rulebook,
      rules: [
        {
          id: 'x',
          stage: 'packing',
          name: 'Gone box',
          on: true,
          when: { all: [] },
          then: [{ set: 'preset', to: 'gone' }],
        },
      ],
    },
    revision,
  )
  if (!saved.ok) throw new Error(saved.sentence)
  expect(saved.findings).toMatchObject([{ severity: 'error', code: 'missing' }])
  expect(await publishDraft(rig.gharry, saved.revision, '')).toMatchObject({
    ok: false,
    code: 'has-errors',
    sentence: expect.stringContaining('Gone box') as string,
  })
})

test('a rule pointing to a preset that was deleted sends its orders to needs attention, with the rule’s name', async () => {
  const { rulebook, revision } = await draft()
  const saved = await saveDraft(
    rig.gharry,
    {
      ...rulebook,
      rules: [
        {
          id: 'x',
          stage: 'packing',
          name: 'Into S',
          on: true,
          when: { all: [] },
          then: [{ set: 'preset', to: 'box-l' }],
        },
        ...rulebook.rules,
      ],
    },
    revision,
  )
  if (!saved.ok) throw new Error(saved.sentence)
  expect(await publishDraft(rig.gharry, saved.revision, 'all into one box')).toMatchObject({ ok: true })
  await rig.workAll()
  const { world } = await showRulebook(rig.gharry)
  const presets = (list: typeof world.presets) =>
    changeWorld(rig.gharry, null, 'The presets changed', (before) => ({ ...before, presets: list }))
  await presets(world.presets.filter((preset) => preset.id !== 'box-l'))
  await rig.workAll()
  expect(
    (await rig.orders()).every(
      (order) => order.state === 'attention' && /"box-l" does not exist.*Rule "Into S"/.test(order.problem ?? ''),
    ),
  ).toBe(true)
  await presets(world.presets)
  await rig.workAll()
  expect((await rig.orders()).every((order) => order.state === 'ready')).toBe(true)
})

test('a draft that breaks a pinned order is not published unnoticed', async () => {
  const [first] = await rig.orders()
  expect(await pinExample(rig.gharry, first!.id, 'the first')).toMatchObject({ ok: true })
  const { rulebook, revision } = await draft()
  expect((await showRulebook(rig.gharry)).pinned).toMatchObject([{ name: 'the first', broken: [] }])
  const saved = await saveDraft(
    rig.gharry,
    {
      ...rulebook,
      rules: [
        {
          id: 'all-post',
          stage: 'service',
          name: 'Post',
          on: true,
          when: { all: [] },
          then: [{ set: 'picks', to: [{ by: 'service', service: 'northlight-day' }] }],
        },
        ...rulebook.rules,
      ],
    },
    revision,
  )
  if (!saved.ok) throw new Error(saved.sentence)
  const [result] = (await showRulebook(rig.gharry)).pinned
  expect(result!.broken.map((difference) => difference.what)).toEqual(['service'])
  expect(await publishDraft(rig.gharry, saved.revision, '')).toMatchObject({ ok: false, code: 'pins-broken' })
  expect(await repinExample(rig.gharry, result!.id, 'the post is right now')).toEqual({ ok: true })
  expect((await showRulebook(rig.gharry)).pinned[0]!.broken).toEqual([])
  // All by post leaves nothing for live plants, which another rule keeps from it.
  expect(await publishDraft(rig.gharry, saved.revision, '')).toMatchObject({ ok: false, code: 'new-gaps' })
  expect(await publishDraft(rig.gharry, saved.revision, 'plants wait')).toMatchObject({ ok: true })
  expect(await unpinExample(rig.gharry, result!.id)).toEqual({ ok: true })
  expect(await unpinExample(rig.gharry, result!.id)).toMatchObject({ ok: false })
})

test('hand pins are checked', async () => {
  const [first] = await rig.orders()
  expect(await pinDecision(rig.gharry, first!.id, 'preset', 'gone')).toMatchObject({
    ok: false,
    sentence: 'The package preset "gone" does not exist.',
  })
  expect(await pinDecision(rig.gharry, first!.id, 'weight', 'heavy')).toMatchObject({ ok: false, code: 'bad-value' })
  expect(await pinDecision(rig.gharry, first!.id, 'colour', 'red')).toMatchObject({
    ok: false,
    code: 'unknown-decision',
  })
  expect(await pinDecision(rig.gharry, 999_999, 'hold', 'x')).toMatchObject({ ok: false, code: 'unknown-order' })
  expect(await pinDecision(rig.gharry, first!.id, 'hold', 'look at it')).toEqual({ ok: true })
  expect((await rig.orders())[0]).toMatchObject({ state: 'held', hold: 'look at it' })
  expect(await pinDecision(rig.gharry, first!.id, 'hold', null)).toEqual({ ok: true })
  expect((await rig.orders())[0]).toMatchObject({ state: 'ready', hold: null })
})
