import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

import { client, minutesUntouched, type Permission, type Session, unwrap } from '@/api/client'
import { language, region } from '@/words'

const LOOKS_EVERY_MS = 10_000

export const useSession = defineStore('session', () => {
  const session = ref<Session | null>(null)
  /** An operator was signed in and no longer is: the page stays, under the sign-in. */
  const hasEnded = ref(false)
  const isSignedIn = computed(() => session.value?.is_signed_in ?? false)

  function take(found: Session) {
    session.value = found
    if (!found.language) return
    language.value = found.language
    region.value = found.region
  }
  async function load() {
    take(await unwrap(client.GET('/api/session/')))
  }
  async function signIn(username: string, password: string, code: string) {
    // asking first brings the token that a write needs, should it be gone
    await unwrap(client.GET('/api/session/'))
    take(await unwrap(client.POST('/api/session/', { body: { username, password, code } })))
    hasEnded.value = false
  }
  async function signOut() {
    await unwrap(client.DELETE('/api/session/'))
    await load()
  }
  function ended() {
    if (isSignedIn.value) hasEnded.value = true
  }
  const may = (permission: Permission) => session.value?.permissions.includes(permission) ?? false

  // nobody at the page for as long as the house allows: it is shut before somebody else sits down at it
  setInterval(() => {
    if (!isSignedIn.value || hasEnded.value) return
    if (minutesUntouched() < (session.value?.idle_minutes ?? 0)) return
    void client.DELETE('/api/session/')
    ended()
  }, LOOKS_EVERY_MS)

  return { session, isSignedIn, hasEnded, load, signIn, signOut, ended, may }
})
