<script setup lang="ts">
import { LANGUAGES, language, t } from '@/words'

/** The page before there is a session: a sheet over the night, with lit windows, and the choice of language. */
defineProps<{ isOver?: boolean }>()
</script>

<template>
  <main class="sign-in" :class="{ over: isOver }">
    <div class="sheet"><slot /></div>
    <div class="lamps" aria-hidden="true">
      <i
        v-for="lamp in 28"
        :key="lamp"
        :class="{ lit: [3, 4, 9, 10, 11, 16, 17, 18, 23, 24].includes(lamp) }"
      />
    </div>
    <nav class="languages" :aria-label="t('signIn.language')">
      <button
        v-for="one in LANGUAGES"
        :key="one"
        type="button"
        :lang="one"
        :aria-pressed="one === language"
        @click="language = one"
      >
        {{ t(`account.languages.${one}`) }}
      </button>
    </nav>
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
  background: var(--p-cadrin-sheet);
  border-radius: 4px;
}
.sheet :deep(form) {
  display: flex;
  flex-direction: column;
  gap: 12px;
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
.languages {
  display: flex;
  gap: 4px;
}
.languages button {
  padding: 4px 10px;
  border: 1px solid transparent;
  border-radius: 4px;
  background: none;
  color: var(--p-cadrin-bar-quiet);
  cursor: pointer;
}
.languages [aria-pressed='true'] {
  border-color: var(--p-cadrin-night-line);
  color: var(--p-cadrin-bar-ink);
}
.languages :focus-visible {
  outline-color: var(--p-cadrin-lit);
}
</style>
