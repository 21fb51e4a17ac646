<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { useLocalStorage, usePreferredDark } from '@vueuse/core'
import { Keyboard, LogOut, Moon, Sun } from '@lucide/vue'
import { computed, watchEffect } from 'vue'

import { house, waiting } from '@/api/queries'
import { useSiteClock, whenWords } from '@/kit/time/clock'
import { useSession } from '@/kit/state/session'
import { t } from '@/words'

import FindBox from './FindBox.vue'

const emit = defineEmits<{ keys: [] }>()

const session = useSession()
const { data } = useQuery(house)
const { data: counts } = useQuery(waiting)
const clock = useSiteClock()

const prefersDark = usePreferredDark()
const chosen = useLocalStorage<'dark' | 'light' | ''>('cadrin.theme', '')
const isDark = computed(() => (chosen.value ? chosen.value === 'dark' : prefersDark.value))
watchEffect(() => document.documentElement.classList.toggle('dark', isDark.value))
</script>

<template>
  <header class="top">
    <RouterLink to="/" class="name">{{ t('name') }}</RouterLink>
    <p class="clock" :title="t('frame.clock', { site: data?.site.name ?? '', zone: data?.site.zone ?? '' })">
      <span>{{ data?.site.name }}</span>
      <span class="mono">{{ clock.day }} {{ clock.time }} {{ clock.zone }}</span>
    </p>
    <FindBox class="find" />
    <RouterLink
      v-if="counts?.worker_stopped_at"
      :to="{ name: 'delivery' }"
      class="stopped one-line push"
      role="alert"
      :title="t('delivery.worker', { when: whenWords(counts.worker_stopped_at) })"
    >
      {{ t('frame.workerStopped') }}
    </RouterLink>
    <button
      type="button"
      class="plain"
      :class="{ push: !counts?.worker_stopped_at }"
      :title="t('frame.keys')"
      @click="emit('keys')"
    >
      <Keyboard :size="16" aria-hidden="true" /><span class="unseen">{{ t('frame.keys') }}</span>
    </button>
    <button
      type="button"
      class="plain"
      :title="isDark ? t('frame.light') : t('frame.dark')"
      @click="chosen = isDark ? 'light' : 'dark'"
    >
      <component :is="isDark ? Sun : Moon" :size="16" aria-hidden="true" />
      <span class="unseen">{{ isDark ? t('frame.light') : t('frame.dark') }}</span>
    </button>
    <RouterLink
      :to="{ name: 'account' }"
      class="operator one-line"
      :title="session.session?.is_kept ? t('frame.onlyPart') : t('account.open')"
    >
      {{ session.session?.name }}
    </RouterLink>
    <button type="button" class="plain" :title="t('signIn.out')" @click="session.signOut()">
      <LogOut :size="16" aria-hidden="true" /><span class="unseen">{{ t('signIn.out') }}</span>
    </button>
  </header>
</template>

<style scoped>
.top {
  grid-area: top;
  display: flex;
  align-items: center;
  gap: 14px;
  padding: 0 16px;
  background: var(--p-cadrin-bar);
  color: var(--p-cadrin-bar-ink);
}
.name {
  width: 138px;
  font-size: 18px;
  font-weight: 700;
  letter-spacing: 0.02em;
  color: inherit;
  text-decoration: none;
}
.clock {
  display: flex;
  flex-direction: column;
  line-height: 1.25;
  font-size: 12px;
  width: 210px;
}
.clock .mono {
  color: var(--p-cadrin-bar-quiet);
}
.find {
  width: 360px;
}
.plain {
  display: inline-flex;
  padding: 6px;
  background: none;
  border: 0;
  border-radius: 4px;
  color: var(--p-cadrin-bar-ink);
  cursor: pointer;
}
.plain:hover {
  background: var(--p-cadrin-night);
}
.top :focus-visible {
  outline-color: var(--p-cadrin-lit);
}
.stopped {
  padding: 3px 10px;
  border-radius: 4px;
  background: var(--p-cadrin-amber-paper);
  color: var(--p-cadrin-ink);
  font-weight: 650;
  text-decoration: none;
}
.operator {
  max-width: 150px;
  color: inherit;
}
/* on a tablet held upright, or enlarged (WCAG 2.2, 1.4.10), parts stand beneath one another */
@media (width < 1000px) {
  .top {
    flex-wrap: wrap;
    gap: 4px 10px;
    padding: 4px 12px;
  }
  .name {
    width: auto;
  }
  .clock {
    display: none;
  }
  .find {
    flex: 1;
    width: auto;
    min-width: 160px;
  }
}
</style>
