<script setup lang="ts">
import Button from 'primevue/button'
import { computed, nextTick, onMounted, ref } from 'vue'

import type { Problem } from '@/api/client'
import FieldProblem from '@/kit/controls/FieldProblem.vue'
import { problemsIn } from '@/kit/state/problems'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

import SignInFrame from './SignInFrame.vue'

defineProps<{ isAgain: boolean }>()

const session = useSession()
const username = ref('')
const password = ref('')
const code = ref('')
/** The password was right, and a one-time code is asked for. */
const needsCode = ref(false)
const problems = ref<Problem[]>([])
const isBusy = ref(false)

onMounted(() => document.querySelector<HTMLInputElement>('.sign-in input')?.focus())

async function signIn() {
  isBusy.value = true
  problems.value = []
  try {
    await session.signIn(username.value, password.value, code.value)
  } catch (error) {
    problems.value = problemsIn(error)
    const isAsked = problems.value.some((one) => one.code === 'operator.code_needed')
    if (isAsked && !needsCode.value) problems.value = []
    needsCode.value ||= isAsked
    if (needsCode.value)
      void nextTick(() => document.querySelector<HTMLInputElement>('.sign-in .code input')?.focus())
  } finally {
    isBusy.value = false
  }
}
const at = (field: string) => problems.value.filter((one) => one.field === field)
const elsewhere = computed(() =>
  problems.value.filter((one) => !['username', 'password', 'code'].includes(one.field ?? '')),
)
</script>

<template>
  <SignInFrame :is-over="isAgain">
    <form @submit.prevent="signIn">
      <h1>{{ t('signIn.title') }}</h1>
      <p v-if="isAgain" class="quiet">{{ t('signIn.again') }}</p>
      <TextField
        v-model="username"
        :label="t('signIn.username')"
        :problems="at('username')"
        autocomplete="username"
      />
      <TextField
        v-model="password"
        type="password"
        :label="t('signIn.password')"
        :problems="at('password')"
        autocomplete="current-password"
      />
      <TextField
        v-if="needsCode"
        v-model="code"
        class="code"
        is-mono
        :label="t('signIn.code')"
        :hint="t('signIn.codeHint')"
        :problems="at('code')"
        autocomplete="one-time-code"
      />
      <FieldProblem id="sign-in-problem" :problems="elsewhere" />
      <Button type="submit" :label="t('signIn.act')" :loading="isBusy" />
    </form>
  </SignInFrame>
</template>
