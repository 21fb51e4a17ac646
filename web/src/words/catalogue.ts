/** The shape of a catalogue: the same keys all the way down, whatever the words are. A missing message is an error. */
export type SameKeys<T> = {
  [K in keyof T]: T[K] extends string ? string : T[K] extends readonly string[] ? string[] : SameKeys<T[K]>
}
