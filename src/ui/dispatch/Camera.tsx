'use client'
import { useEffect, useRef, useState } from 'react'

/** A code that stays in the picture is one scan; held up anew after so long, it is another. Milliseconds. */
const sameFor = 2500
const lookEvery = 120

interface Seen {
  readonly rawValue: string
  readonly boundingBox: { readonly x: number; readonly y: number; readonly width: number; readonly height: number }
}
/** Of several codes on one paper, the one that is held into the middle is meant. */
function inTheMiddle(codes: readonly Seen[], { videoWidth, videoHeight }: HTMLVideoElement): Seen | undefined {
  const off = ({ boundingBox: { x, y, width, height } }: Seen): number =>
    Math.hypot(x + width / 2 - videoWidth / 2, y + height / 2 - videoHeight / 2)
  return [...codes].sort((a, b) => off(a) - off(b))[0]
}

/** The camera as a scanner: what it sees is read some times a second, by a program that Gharry ships. */
export function Camera({ onScan }: { onScan: (text: string) => void }) {
  const video = useRef<HTMLVideoElement>(null)
  const scanned = useRef(onScan)
  const [wrong, setWrong] = useState('')
  useEffect(() => {
    scanned.current = onScan
  })
  useEffect(() => {
    let ended = false
    let stream: MediaStream | null = null
    let last = { code: '', at: 0 }
    const look = async (): Promise<void> => {
      // Over plain HTTP, browsers give no camera but on the machine itself.
      const devices = navigator.mediaDevices as MediaDevices | undefined
      if (!devices) return setWrong('The browser gives no camera here: open Gharry by https.')
      const { BarcodeDetector, prepareZXingModule } = await import('barcode-detector/ponyfill')
      prepareZXingModule({
        overrides: { locateFile: (path: string) => (path.endsWith('.wasm') ? '/reader' : path) },
      })
      const reader = new BarcodeDetector({
        formats: ['code_128', 'ean_13', 'ean_8', 'upc_a', 'itf', 'data_matrix', 'qr_code'],
      })
      stream = await devices.getUserMedia({ video: { facingMode: 'environment', width: { ideal: 1280 } } })
      const shown = video.current
      if (!shown || ended) return
      shown.srcObject = stream
      await shown.play()
      while (!ended) {
        await new Promise((resolve) => setTimeout(resolve, lookEvery))
        if (shown.readyState < shown.HAVE_CURRENT_DATA) continue
        const code = inTheMiddle(await reader.detect(shown), shown)
        if (!code) continue
        const now = Date.now()
        const again = code.rawValue === last.code && now - last.at < sameFor
        last = { code: code.rawValue, at: now }
        if (!again) scanned.current(code.rawValue)
      }
    }
    look().catch((error: unknown) => {
      if (ended) return
      const denied = error instanceof DOMException && error.name === 'NotAllowedError'
      const none = error instanceof DOMException && error.name === 'NotFoundError'
      if (denied) setWrong('The camera is not allowed: allow it for this page in the browser’s settings.')
      else if (none) setWrong('There is no camera here: scan with a scanner, or type the code.')
      else setWrong('The camera cannot be used: scan with a scanner, or type the code.')
    })
    return () => {
      ended = true
      stream?.getTracks().forEach((track) => track.stop())
    }
  }, [])
  return wrong === '' ? (
    <div className="relative">
      <video ref={video} muted playsInline aria-label="Camera" className="h-44 w-full bg-ink object-cover" />
      <span aria-hidden className="absolute inset-x-[15%] top-1/2 h-0.5 bg-lost" />
    </div>
  ) : (
    <p role="alert" className="bg-wait-soft px-4 py-2 text-wait">
      {wrong}
    </p>
  )
}
