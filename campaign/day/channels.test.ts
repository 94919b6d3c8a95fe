import { channelOfOrder } from './channels'

test('a day has orders from all channels, most from the shop', () => {
  const counts = new Map<string, number>()
  for (let n = 0; n < 1000; n++) counts.set(channelOfOrder(n), (counts.get(channelOfOrder(n)) ?? 0) + 1)
  expect(Object.fromEntries(counts)).toEqual({ shop: 600, lane: 200, quill: 150, desk: 50 })
})
