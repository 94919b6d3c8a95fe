import { execFileSync } from 'node:child_process'
import { mkdtempSync, readdirSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { chromium, expect, test } from '@playwright/test'
import sharp from 'sharp'
import { ask, buy, said } from './floor'

/** A film of a still picture, as a camera gives it: YUV4MPEG2, grey. */
async function filmOf(picture: Buffer): Promise<Buffer> {
  const [width, height] = [1280, 960]
  const fit = { width, height, fit: 'contain', background: '#b9a888' } as const
  const grey = await sharp(picture).resize(fit).flatten().grayscale().raw().toBuffer()
  const frame = [Buffer.from('FRAME\n'), grey.subarray(0, width * height), Buffer.alloc((width * height) / 2, 128)]
  return Buffer.concat([Buffer.from(`YUV4MPEG2 W${width} H${height} F10:1 Ip A1:1 C420jpeg\n`), ...frame, ...frame])
}

test('a telephone’s camera reads a printed slip: the parcel is opened, and one without a camera says what to do', async ({
  page,
  baseURL,
}) => {
  // The slip of live plants has bars of its order and of its items.
  const [one] = await buy(page, 1, 'service=heron-road&tag=live')
  const order = await ask<{ labels: { id: number }[] }>(page, 'get', `/api/desk/orders/${one!.id}`)
  const made = await ask<{ file: string }>(page, 'post', `/api/dispatch/labels/${order.labels.at(-1)!.id}/print`, {
    parts: 'slips',
  })
  const folder = mkdtempSync(join(tmpdir(), 'gharry-slip-'))
  writeFileSync(join(folder, 'slip.pdf'), await (await page.request.get(made.file)).body())
  execFileSync('pdftoppm', ['-r', '150', '-f', '1', '-l', '1', '-png', join(folder, 'slip.pdf'), join(folder, 'slip')])
  const picture = join(
    folder,
    readdirSync(folder).find((file) => file.endsWith('.png'))!,
  )
  // As a hand holds it: not quite straight, on a table, not quite in focus.
  const slip = await sharp(picture).rotate(3, { background: '#b9a888' }).blur(0.6).toBuffer()
  const { width } = await sharp(slip).metadata()
  const film = join(folder, 'slip.y4m')
  // The order's own bars are held into the middle; those of its items are in the picture, too.
  writeFileSync(
    film,
    await filmOf(await sharp(slip).extract({ left: 0, top: 0, width: width, height: 400 }).toBuffer()),
  )
  const phone = await chromium.launch({
    executablePath: '/usr/bin/chromium',
    args: [
      '--no-sandbox',
      '--use-fake-device-for-media-stream',
      '--use-fake-ui-for-media-stream',
      `--use-file-for-fake-video-capture=${film}`,
    ],
  })
  const bench = await phone.newPage({ baseURL: baseURL!, viewport: { width: 390, height: 844 } })
  await bench.goto('/bench')
  await bench.getByLabel('Its name').fill('Telephone')
  await bench.keyboard.press('Enter')
  await said(bench, 'Scan a slip, a label or an item')
  await bench.getByRole('button', { name: 'Scan with the camera' }).click()
  await said(bench, one!.number)
  expect(await bench.evaluate(() => document.documentElement.scrollWidth)).toBeLessThanOrEqual(390)
  await phone.close()
  rmSync(folder, { recursive: true })

  await page.goto('/bench')
  await page.getByLabel('Its name').fill('No camera')
  await page.keyboard.press('Enter')
  await page.getByRole('button', { name: 'Scan with the camera' }).click()
  await expect(page.getByText(/^(There is no camera here|The camera (is not allowed|cannot be used))/)).toBeVisible()
})
