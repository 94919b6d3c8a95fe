import sharp from 'sharp'
import { noticeSteps, type NoticePlan, usualFace, usualPlan } from '@/core/telling'
import { saveFaces, takeLogo } from '@/usecases/tracking/faces'
import { saveNotices } from '@/usecases/tracking/noticeSettings'
import type { Application } from '@/usecases/shared/application'

const logo = `<svg xmlns="http://www.w3.org/2000/svg" width="440" height="120" viewBox="0 0 440 120">
<g fill="none" stroke="#1F6B5C" stroke-width="7" stroke-linecap="round">
<path d="M20 96c18-2 24-30 22-68M42 62c12-2 24-12 24-30M42 78c-10-2-20-10-20-24"/><path d="M12 104h66"/></g>
<text x="96" y="80" font-family="DejaVu Sans" font-size="54" font-weight="700" fill="#18322D">Mossgill</text></svg>`

const someTexts: ReadonlySet<string> = new Set(['out for delivery', 'waiting to be fetched'])

/** The customer's page of Mossgill Aquatics, and what its customers are told. */
export async function giveFace(gharry: Application): Promise<void> {
  const picture = await takeLogo(gharry, await sharp(Buffer.from(logo)).png().toBuffer())
  if (!picture.ok) throw new Error(picture.sentence)
  const all = {
    ...usualFace,
    colours: { accent: '#1F6B5C', paper: '#FAFBF9', ink: '#18322D' },
    logo: picture.logo,
    links: [{ label: 'How to unpack live plants', url: 'https://mossgill.example/plants' }],
    texts: {
      en: { above: 'Thank you for your order.', below: 'Plants like light: unpack them on the day they arrive.' },
      nl: { above: 'Bedankt voor uw bestelling.', below: 'Planten houden van licht: pak ze dezelfde dag uit.' },
    },
  }
  const page = await saveFaces(gharry, 0, { all, channels: {} }, true)
  const steps = Object.fromEntries(
    noticeSteps.map((step) => [
      step,
      { ...usualPlan.steps[step], text: { ...usualPlan.steps[step].text, on: someTexts.has(step) } },
    ]),
  ) as unknown as NoticePlan['steps']
  const notices = await saveNotices(gharry, 0, { ...usualPlan, steps })
  if (!page.ok || !notices.ok) throw new Error('The demo’s page or notices are wrong.')
}
