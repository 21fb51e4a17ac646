<script setup lang="ts">
import Dialog from 'primevue/dialog'

import CheckLine from '@/kit/controls/CheckLine.vue'
import { lettersAct } from '@/kit/controls/keys'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

const { session } = useSession()
const visible = defineModel<boolean>('visible', { required: true })
const keys = [
  ['/', 'find'],
  ['N', 'new'],
  ['U', 'use'],
  ['B', 'bench'],
  ['Ctrl + S', 'save'],
  ['Ctrl + Enter', 'saveNext'],
  ['Alt + 1…6', 'parts'],
  ['G …', 'go'],
  ['J  K', 'list'],
  ['X', 'select'],
  ['?', 'all'],
] as const
const manual = [
  ['README.md', 'manual'],
  ['docs/running.md', 'running'],
  ['CHANGELOG.md', 'changes'],
] as const
</script>

<template>
  <Dialog v-model:visible="visible" modal :header="t('keys.title')" :style="{ width: '460px' }">
    <dl>
      <template v-for="[key, word] in keys" :key="key">
        <dt>
          <kbd class="mono">{{ key }}</kbd>
        </dt>
        <dd>{{ t(`keys.${word}`) }}</dd>
      </template>
    </dl>
    <p class="quiet">{{ t('keys.outside') }}</p>
    <CheckLine v-model="lettersAct" :label="t('keys.letters')" />
    <p class="help">
      <span>{{ t('keys.version', { version: session?.version ?? '' }) }}</span>
      <a v-for="[page, word] in manual" :key="page" :href="`/manual/${page}`" target="_blank">{{
        t(`keys.${word}`)
      }}</a>
    </p>
  </Dialog>
</template>

<style scoped>
dl {
  display: grid;
  grid-template-columns: 126px 1fr;
  gap: 8px;
  margin-bottom: 14px;
}
kbd {
  padding: 1px 6px;
  border: 1px solid var(--p-cadrin-hairline);
  border-radius: 4px;
}
.help {
  display: flex;
  flex-wrap: wrap;
  gap: 4px 16px;
  margin-top: 14px;
  padding-top: 10px;
  border-top: 1px solid var(--p-cadrin-hairline);
}
</style>
