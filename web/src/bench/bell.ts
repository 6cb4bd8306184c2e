/** Three short tones, as loud as the tablet is; nothing where the browser has no sound yet. */
export function ring() {
  try {
    const audio = new AudioContext()
    for (let i = 0; i < 3; i++) {
      const tone = audio.createOscillator()
      const loud = audio.createGain()
      tone.frequency.value = 880
      loud.gain.value = 0.25
      tone.connect(loud).connect(audio.destination)
      tone.start(audio.currentTime + i * 0.35)
      tone.stop(audio.currentTime + i * 0.35 + 0.2)
    }
    window.setTimeout(() => void audio.close(), 2000)
  } catch {
    // it is seen as well
  }
}
