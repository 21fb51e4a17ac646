<script setup lang="ts">
import Toast from 'primevue/toast'
import { usePrimeVue } from 'primevue/config'
import { computed, onMounted, watch } from 'vue'
import { useRoute } from 'vue-router'

import Frame from './frame/Frame.vue'
import LateConfirm from './kit/controls/LateConfirm.vue'
import { useReads } from './kit/state/reads'
import { useSession } from './kit/state/session'
import SetPassword from './sections/signin/SetPassword.vue'
import SignIn from './sections/signin/SignIn.vue'
import { language } from './words'
import { useLibraryWords } from './words/primevue'

const session = useSession()
const route = useRoute()
/** A link with which an operator sets a password, before there is any session. */
const link = computed(() =>
  route.name === 'password' ? { who: String(route.params.who), token: String(route.params.token) } : null,
)
const page = computed(() => [language.value, ...(session.session?.permissions ?? [])].join())
useLibraryWords(usePrimeVue())
const reads = useReads()

onMounted(() => session.load())
watch(
  () => session.isSignedIn && !session.hasEnded,
  (is) => (is ? reads.start() : reads.end()),
)
// what lies over the page, such as an open dialogue, is shut with it
watch(
  () => session.hasEnded,
  (has) => {
    for (const one of document.body.children) if (one.id !== 'app') one.toggleAttribute('inert', has)
  },
)
</script>

<template>
  <Toast position="top-right" />
  <LateConfirm />
  <template v-if="session.session">
    <SetPassword v-if="link" :who="link.who" :token="link.token" />
    <template v-else>
      <!-- in another language, or with other permissions, it is another page; drafts are kept beside it -->
      <Frame v-if="session.isSignedIn" :key="page" :inert="session.hasEnded" />
      <SignIn v-if="!session.isSignedIn || session.hasEnded" :is-again="session.hasEnded" />
    </template>
  </template>
</template>
