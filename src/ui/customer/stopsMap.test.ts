import { stopsMap } from './stopsMap'

const at = (name: string, latitude: number, longitude: number) => ({ name, latitude, longitude })

test('a way of two stops and more is drawn on land; names that would lie on each other are left out', () => {
  expect(stopsMap([at('Ghent', 51.05, 3.72)])).toBeNull()
  const way = [
    at('Ghent', 51.05, 3.72),
    at('Brussels', 50.85, 4.35),
    at('Lille', 50.63, 3.06),
    at('Ajaccio', 41.92, 8.74),
  ]
  const map = stopsMap(way)!
  expect(map.stops.map(({ name, named }) => (named ? name : '-'))).toEqual(['Ghent', '-', '-', 'Ajaccio'])
  expect(map.land.length).toBeGreaterThan(1000)
  for (const { x, y } of map.stops) expect(x >= 0 && x <= map.width && y >= 0 && y <= map.height).toBe(true)
})

test('what lies over the date line is drawn on both sides of it', () => {
  const land = (from: number): string => stopsMap([at('A', -17, from), at('B', -38, 175)])!.land
  expect(land(178).length).toBeGreaterThan(100)
  expect(land(-175).length).toBeGreaterThan(100)
})
