<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'

import { t } from '@/words'

import CardRulesEditor from './CardRulesEditor.vue'
import { cardRules } from './queries'

defineProps<{ mayChange: boolean }>()
const { data, isError } = useQuery(cardRules)
</script>

<template>
  <h2>{{ t('setup.parts.cards') }}</h2>
  <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
  <CardRulesEditor v-if="data" :key="data.version" :rules="data" :may-change="mayChange" />
</template>
