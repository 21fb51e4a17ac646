<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import { t } from '@/words'

import { rules } from './queries'
import RulesEditor from './RulesEditor.vue'

defineProps<{ mayChange: boolean }>()
const { data, isError } = useQuery(rules)
</script>

<template>
  <h2>{{ t('setup.parts.rules') }}</h2>
  <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
  <RulesEditor v-if="data" :key="data.version" :rules="data" :may-change="mayChange" />
</template>
