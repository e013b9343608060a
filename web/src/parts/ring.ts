// What a device can do to be noticed: a tone and a shake. Neither is loaded; the
// tone is made here.
let audio: AudioContext | null = null

const tones = [880, 1175, 880]
const toneSeconds = 0.16

/** A browser makes no sound before it has been tapped: the first tap lets it. */
export function letSound() {
  const wake = () => {
    try {
      audio ??= new AudioContext()
      void audio.resume()
    } catch {
      // A browser that makes no sound shows the clocks all the same.
    }
  }
  addEventListener('pointerdown', wake)
  return () => removeEventListener('pointerdown', wake)
}

/** Sounds and shakes; silent where the device may not. */
export function ring() {
  navigator.vibrate?.([200, 100, 200, 100, 400])
  try {
    audio ??= new AudioContext()
    tones.forEach((hertz, i) => beep(hertz, i * toneSeconds, toneSeconds * 0.8))
  } catch {
    // A browser that makes no sound has shown the clock all the same.
  }
}

/** A short tick for each of the last seconds of a countdown. */
export function tick() {
  navigator.vibrate?.(40)
  try {
    audio ??= new AudioContext()
    beep(660, 0, 0.05)
  } catch {
    // As above.
  }
}

function beep(hertz: number, after: number, seconds: number) {
  if (!audio) return
  const at = audio.currentTime + after
  const tone = audio.createOscillator()
  const gain = audio.createGain()
  tone.frequency.value = hertz
  gain.gain.setValueAtTime(0.18, at)
  gain.gain.setValueAtTime(0, at + seconds)
  tone.connect(gain).connect(audio.destination)
  tone.start(at)
  tone.stop(at + seconds)
}
