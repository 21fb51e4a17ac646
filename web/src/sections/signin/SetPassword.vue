<script setup lang="ts">
import Button from 'primevue/button'
import { computed, ref } from 'vue'
import { useRouter } from 'vue-router'

import { client, type Problem, unwrap } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { problemsIn } from '@/kit/state/problems'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import SignInFrame from './SignInFrame.vue'

/** Set a password by a link that an administrator handed over. */
const props = defineProps<{ who: string; token: string }>()

const router = useRouter()
const password = ref('')
const problems = ref<Problem[]>([])
const isBusy = ref(false)
const isDone = ref(false)

async function set() {
  isBusy.value = true
  problems.value = []
  try {
    // asking first brings the token that a write needs
    await unwrap(client.GET('/api/session/'))
    await unwrap(client.POST('/api/password-link/', { body: { ...props, new: password.value } }))
    isDone.value = true
  } catch (error) {
    problems.value = problemsIn(error)
  } finally {
    isBusy.value = false
  }
}
const at = (field: string) => problems.value.filter((one) => one.field === field)
const elsewhere = computed(() => problems.value.filter((one) => one.field !== 'new'))
</script>

<template>
  <SignInFrame>
    <form @submit.prevent="isDone ? router.replace('/') : set()">
      <h1>{{ t('signIn.setTitle') }}</h1>
      <p v-if="isDone" role="status">{{ t('signIn.setDone') }}</p>
      <TextField
        v-else
        v-model="password"
        type="password"
        autocomplete="new-password"
        :label="t('account.new')"
        :problems="at('new')"
      />
      <FieldProblem id="set-password-problem" :problems="elsewhere" />
      <Button type="submit" :label="isDone ? t('signIn.act') : t('signIn.setAct')" :loading="isBusy" />
    </form>
  </SignInFrame>
</template>
