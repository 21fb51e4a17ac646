<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import { t } from '@/words'

import BiometricRulesEditor from './BiometricRulesEditor.vue'
import { biometricRules } from './queries'

defineProps<{ mayChange: boolean }>()
const { data, isError } = useQuery(biometricRules)
</script>

<template>
  <h2>{{ t('setup.parts.biometrics') }}</h2>
  <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
  <BiometricRulesEditor v-if="data" :key="data.version" :rules="data" :may-change="mayChange" />
</template>
