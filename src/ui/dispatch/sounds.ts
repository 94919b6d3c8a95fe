/*
 * What a bench sounds like: right is short and high, done climbs, wrong is long, low and rough. Made here: nothing is
 * fetched.
 */
let context: AudioContext | null = null

function tone(at: number, hertz: number, seconds: number, type: OscillatorType, loud: number): void {
  if (!context) return
  const from = context.currentTime + at
  const oscillator = context.createOscillator()
  const gain = context.createGain()
  oscillator.type = type
  oscillator.frequency.value = hertz
  gain.gain.setValueAtTime(loud, from)
  gain.gain.exponentialRampToValueAtTime(0.001, from + seconds)
  oscillator.connect(gain).connect(context.destination)
  oscillator.start(from)
  oscillator.stop(from + seconds)
}

const tones = {
  right: () => tone(0, 1320, 0.09, 'sine', 0.25),
  done: () => [660, 880, 1320].forEach((hertz, i) => tone(i * 0.09, hertz, 0.16, 'sine', 0.3)),
  wrong: () => [0, 0.22, 0.44].forEach((at) => tone(at, 140, 0.2, 'sawtooth', 0.6)),
  ask: () => tone(0, 520, 0.18, 'triangle', 0.25),
  idle: () => undefined,
} as const

/** Sounds; browsers allow it after the first key or touch. A device without a loudspeaker is no reason to stop. */
export function sound(which: keyof typeof tones): void {
  try {
    context ??= new AudioContext()
    void context.resume()
    tones[which]()
  } catch {
    context = null
  }
}
