import type { InjectionKey } from 'vue'

/** Whether what is shown here can only be looked at: then nothing of it is folded away. */
export const isOnlySeen: InjectionKey<boolean> = Symbol('only seen')
