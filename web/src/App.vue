<script setup lang="ts">
import ConfirmDialog from 'primevue/confirmdialog'
import Toast from 'primevue/toast'
import { onMounted, watch } from 'vue'

import Frame from './frame/Frame.vue'
import { useReads } from './kit/reads'
import { useSession } from './kit/session'
import SignIn from './sections/signin/SignIn.vue'

const session = useSession()
const reads = useReads()

onMounted(() => session.load())
watch(
  () => session.isSignedIn && !session.hasEnded,
  (is) => (is ? reads.start() : reads.end()),
)
</script>

<template>
  <Toast position="top-right" />
  <ConfirmDialog :style="{ width: '440px' }" />
  <template v-if="session.session">
    <Frame v-if="session.isSignedIn" />
    <SignIn v-if="!session.isSignedIn || session.hasEnded" :is-again="session.hasEnded" />
  </template>
</template>
