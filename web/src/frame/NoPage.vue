<script setup lang="ts">
import { useRoute } from 'vue-router'

import { t } from '@/words'

const route = useRoute()
</script>

<template>
  <div class="page">
    <h1>{{ t('frame.noPage') }}</h1>
    <p>{{ t('frame.noPageAt', { path: route.path }) }}</p>
    <RouterLink :to="{ name: 'desk' }">{{ t('sections.desk') }}</RouterLink>
  </div>
</template>
