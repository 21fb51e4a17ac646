import { defineStore } from 'pinia'
import { computed, ref } from 'vue'

import { client, type Permission, type Session, unwrap } from '@/api/client'

export const useSession = defineStore('session', () => {
  const session = ref<Session | null>(null)
  /** An operator was signed in and no longer is: the page stays, under the sign-in. */
  const hasEnded = ref(false)
  const isSignedIn = computed(() => session.value?.is_signed_in ?? false)

  async function load() {
    session.value = await unwrap(client.GET('/api/session/'))
  }
  async function signIn(username: string, password: string) {
    // asking first brings the token that a write needs, should it be gone
    await unwrap(client.GET('/api/session/'))
    session.value = await unwrap(client.POST('/api/session/', { body: { username, password } }))
    hasEnded.value = false
  }
  async function signOut() {
    await unwrap(client.DELETE('/api/session/'))
    session.value = { is_signed_in: false, name: '', permissions: [] }
  }
  function ended() {
    if (isSignedIn.value) hasEnded.value = true
  }
  const may = (permission: Permission) => session.value?.permissions.includes(permission) ?? false

  return { session, isSignedIn, hasEnded, load, signIn, signOut, ended, may }
})
