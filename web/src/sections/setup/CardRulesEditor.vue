<script setup lang="ts">
import Checkbox from 'primevue/checkbox'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import MayChange from '@/kit/controls/MayChange.vue'
import NumberField from '@/kit/controls/NumberField.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import SelectField from '@/kit/controls/SelectField.vue'
import { t } from '@/words'

type Rules = components['schemas']['CardSettingsShape']

/** What the site asks of cards and PINs. */
const props = defineProps<{ rules: Rules; mayChange: boolean }>()

const editor = useEditor('card-rules', 0, (): Rules => ({ ...props.rules, rule: { ...props.rules.rule } }))
const { draft, act, at } = editor
const DURESS = ['none', 'last_digit_up', 'first_digit_up'] as const
const duress = DURESS.map((value) => ({ value, word: t(`cardRules.duressRules.${value}`) }))
const CHECKS = [
  ['is_unique', 'unique'],
  ['forbids_repeats', 'repeats'],
  ['forbids_runs', 'runs'],
  ['forbids_dates', 'dates'],
  ['forbids_own_numbers', 'own'],
] as const
const FIGURES = [
  ['length', 'length', ''],
  ['remembered', 'remembered', ''],
  ['holds_days', 'holdsDays', t('cardRules.forEver')],
] as const
const KEYPAD = [
  ['max_attempts', 'maxAttempts'],
  ['lockout_seconds', 'lockout'],
] as const

const save = () => act(() => unwrap(client.PUT('/api/card-settings/', { body: draft })))
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <MayChange :may="mayChange">
      <NumberField
        v-model="draft.most_cards"
        class="most"
        :label="t('cardRules.mostCards')"
        :placeholder="t('cardRules.any')"
        :problems="at('most_cards')"
      />
      <h3>{{ t('cardRules.pins') }}</h3>
      <div class="line">
        <NumberField
          v-for="[field, word, placeholder] in FIGURES"
          :key="field"
          v-model="draft.rule[field]"
          class="figure"
          :label="t(`cardRules.${word}`)"
          :placeholder="placeholder"
          :problems="at(field)"
        />
      </div>
      <label v-for="[field, word] in CHECKS" :key="field" class="row" :for="`rule-${field}`">
        <Checkbox v-model="draft.rule[field]" binary :input-id="`rule-${field}`" />
        {{ t(`cardRules.${word}`) }}
      </label>
      <h3>{{ t('cardRules.keypads') }}</h3>
      <div class="line">
        <NumberField
          v-for="[field, word] in KEYPAD"
          :key="field"
          v-model="draft.rule[field]"
          class="figure"
          :label="t(`cardRules.${word}`)"
          :problems="at(field)"
        />
      </div>
      <SelectField
        v-model="draft.rule.duress"
        class="wide"
        :label="t('cardRules.duress')"
        :options="duress"
        :hint="t('cardRules.duressHint')"
        :problems="at('duress')"
      />
    </MayChange>
    <p class="quiet">{{ t('cardRules.stay') }}</p>
    <EditorFoot v-if="mayChange" :editor="editor" />
  </form>
</template>

<style scoped>
.editor {
  display: flex;
  flex-direction: column;
  gap: 8px;
  max-width: 720px;
}
h3 {
  margin-top: 10px;
}
.line {
  display: flex;
  flex-wrap: wrap;
  align-items: flex-start;
  gap: 8px 16px;
}
.figure {
  width: 160px;
}
.wide {
  max-width: 360px;
}
.most {
  width: 240px;
}
</style>
