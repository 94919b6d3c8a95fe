import { spawn } from 'node:child_process'
import { chromium } from '@playwright/test'
import { addEdition } from '@/data'
import { benchIntake } from './intake'
import { cookieOfOwner } from './owner'
import { freePort, whenUp } from './page'
import { realisticRulebook } from './realistic'

interface Timed {
  keys: number[]
  tasks: number[]
}

/**
 * The page of Rules with many rules in force, in a browser: how long a key takes to be seen, and how long the page is
 * busy at most.
 */
export async function benchTyping(rules: number): Promise<{ key: number; slowest: number; busy: number }> {
  let found = { key: 0, slowest: 0, busy: 0 }
  await benchIntake(2000, async (db, folder) => {
    await addEdition(db, realisticRulebook(rules), '', 'bench', '2026-11-20T08:00:00.000Z')
    const port = await freePort()
    const cookie = await cookieOfOwner(folder)
    const server = spawn('node', ['node_modules/next/dist/bin/next', 'start', '-p', String(port), '-H', '127.0.0.1'], {
      env: { ...process.env, GHARRY_DATA: folder },
      stdio: 'ignore',
    })
    const browser = await chromium.launch({ executablePath: '/usr/bin/chromium', args: ['--no-sandbox'] })
    try {
      await whenUp(`http://127.0.0.1:${port}`)
      const page = await browser.newPage({ viewport: { width: 1280, height: 800 } })
      await page.context().addCookies([{ name: 'gharry', value: cookie, url: `http://127.0.0.1:${port}` }])
      await page.goto(`http://127.0.0.1:${port}/rules`)
      await page.getByText('with findings').waitFor()
      await page.waitForTimeout(3000)
      await page.evaluate(() => {
        const timed: Timed = { keys: [], tasks: [] }
        new PerformanceObserver((list) => {
          for (const entry of list.getEntries()) if (entry.name === 'keydown') timed.keys.push(entry.duration)
        }).observe({ type: 'event', durationThreshold: 16 } as PerformanceObserverInit)
        new PerformanceObserver((list) => {
          for (const entry of list.getEntries()) timed.tasks.push(entry.duration)
        }).observe({ type: 'longtask' })
        Object.assign(window, { timed })
      })
      await page.locator('[data-rule] button', { hasText: '€1,500.00' }).first().click()
      for (const key of '1600.50EUR') {
        await page.keyboard.press(key)
        await page.waitForTimeout(300)
      }
      await page.keyboard.press('Enter')
      await page.waitForTimeout(3000)
      const { keys, tasks } = await page.evaluate(() => (window as unknown as { timed: Timed }).timed)
      const sorted = keys.sort((a, b) => a - b)
      found = {
        key: sorted[Math.floor(sorted.length / 2)] ?? 0,
        slowest: sorted[sorted.length - 1] ?? 0,
        busy: Math.round(Math.max(0, ...tasks)),
      }
    } finally {
      await browser.close()
      server.kill()
    }
  })
  return found
}
