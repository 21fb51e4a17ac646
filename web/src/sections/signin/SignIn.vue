<script setup lang="ts">
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { onMounted, ref } from 'vue'

import { type Problem, Refusal } from '@/api/client'
import Field from '@/kit/Field.vue'
import FieldProblem from '@/kit/FieldProblem.vue'
import { useSession } from '@/kit/session'
import { t } from '@/words'

defineProps<{ isAgain: boolean }>()

const session = useSession()
const username = ref('')
const password = ref('')
const problems = ref<Problem[]>([])
const isBusy = ref(false)

onMounted(() => document.querySelector<HTMLInputElement>('.sign-in input')?.focus())

async function signIn() {
  isBusy.value = true
  problems.value = []
  try {
    await session.signIn(username.value, password.value)
  } catch (error) {
    problems.value =
      error instanceof Refusal ? error.problems : [{ code: 'request.failed', field: null, params: {} }]
  } finally {
    isBusy.value = false
  }
}
const at = (field: string) => problems.value.filter((one) => one.field === field)
const elsewhere = () => problems.value.filter((one) => !['username', 'password'].includes(one.field ?? ''))
</script>

<template>
  <main class="sign-in" :class="{ over: isAgain }">
    <form class="sheet" @submit.prevent="signIn">
      <h1>{{ t('signIn.title') }}</h1>
      <p v-if="isAgain" class="quiet">{{ t('signIn.again') }}</p>
      <Field v-slot="{ id, describedBy, invalid }" :label="t('signIn.username')" :problems="at('username')">
        <InputText
          :id="id"
          v-model="username"
          autocomplete="username"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <Field v-slot="{ id, describedBy, invalid }" :label="t('signIn.password')" :problems="at('password')">
        <InputText
          :id="id"
          v-model="password"
          type="password"
          autocomplete="current-password"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
      <FieldProblem id="sign-in-problem" :problems="elsewhere()" />
      <Button type="submit" :label="t('signIn.act')" :loading="isBusy" />
    </form>
    <div class="lamps" aria-hidden="true">
      <i
        v-for="lamp in 28"
        :key="lamp"
        :class="{ lit: [3, 4, 9, 10, 11, 16, 17, 18, 23, 24].includes(lamp) }"
      />
    </div>
  </main>
</template>

<style scoped>
.sign-in {
  min-height: 100vh;
  display: flex;
  flex-direction: column;
  align-items: center;
  justify-content: center;
  gap: 28px;
  background: var(--p-cadrin-strip);
}
.over {
  position: fixed;
  inset: 0;
  z-index: 3000;
}
.sheet {
  width: 340px;
  padding: 24px;
  display: flex;
  flex-direction: column;
  gap: 12px;
  background: var(--p-cadrin-sheet);
  border-radius: 4px;
}
.lamps {
  display: grid;
  grid-template-columns: repeat(7, 34px);
  gap: 6px;
}
.lamps i {
  height: 8px;
  border-radius: 1px;
  background: var(--p-cadrin-night);
}
.lamps .lit {
  background: var(--p-cadrin-lit);
}
</style>
