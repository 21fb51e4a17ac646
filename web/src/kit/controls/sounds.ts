import { useLocalStorage } from '@vueuse/core'

/** Whether the row of people is heard as well as seen. */
export const hasSounds = useLocalStorage('cadrin.sounds', true)

let context: AudioContext | null = null

function tone(hertz: number, seconds: number, kind: OscillatorType) {
  context ??= new AudioContext()
  const oscillator = new OscillatorNode(context, { frequency: hertz, type: kind })
  const volume = new GainNode(context, { gain: 0.12 })
  oscillator.connect(volume).connect(context.destination)
  oscillator.start()
  oscillator.stop(context.currentTime + seconds)
}

/** A high note for a card that was taken, a low one for a card that was not. */
export function sound(isTaken: boolean) {
  if (!hasSounds.value) return
  if (isTaken) tone(880, 0.12, 'sine')
  else tone(160, 0.4, 'sawtooth')
}

/** Say something aloud, where the machine has a voice. */
export function say(words: string) {
  if (!hasSounds.value || !('speechSynthesis' in window)) return
  window.speechSynthesis.cancel()
  window.speechSynthesis.speak(new SpeechSynthesisUtterance(words))
}
