import { buffer } from 'node:stream/consumers'
import PDFDocument from 'pdfkit'
import bwipjs from 'bwip-js/node'

const pointsPerMm = 72 / 25.4

/** A label as a carrier draws it itself: its name large, the number as bars, the address; 100 × 150 mm. In base64. */
export async function drawnLabel(
  format: 'pdf' | 'zpl',
  carrier: string,
  number: string,
  to: readonly string[],
): Promise<{ format: 'pdf' | 'zpl'; content: string }> {
  const content = format === 'zpl' ? zpl(carrier, number, to) : await pdf(carrier, number, to)
  return { format, content: Buffer.from(content).toString('base64') }
}

const zpl = (carrier: string, number: string, to: readonly string[]): string =>
  [
    '^XA^CI28',
    `^FO40,40^A0N,60^FDdrawn by ${plain(carrier)}^FS`,
    ...to.map((line, i) => `^FO40,${140 + i * 50}^A0N,40^FD${plain(line)}^FS`),
    `^FO40,600^BY2^BCN,160,Y,N,N^FD${number}^FS`,
    '^XZ',
  ].join('\n')

const plain = (text: string): string => text.replace(/[\^~]/g, ' ')

async function pdf(carrier: string, number: string, to: readonly string[]): Promise<Buffer> {
  const bars = await bwipjs.toBuffer({ bcid: 'code128', text: number, scale: 3, height: 18 })
  const document = new PDFDocument({ size: [100 * pointsPerMm, 150 * pointsPerMm], margin: 20 })
  document.fontSize(20).text(`drawn by ${carrier}`)
  document.fontSize(12)
  for (const line of to) document.text(line.replace(/[^\x20-\xff]/g, '?'))
  document.image(bars, 20, 260, { width: 240 })
  document.fontSize(12).text(number, 20, 330)
  document.end()
  return buffer(document)
}
