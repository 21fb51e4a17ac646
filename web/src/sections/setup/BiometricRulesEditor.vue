<script setup lang="ts">
import Textarea from 'primevue/textarea'

import { client, unwrap } from '@/api/client'
import type { components } from '@/api/schema'
import Field from '@/kit/controls/Field.vue'
import MayChange from '@/kit/controls/MayChange.vue'
import NumberField from '@/kit/controls/NumberField.vue'
import { useEditor } from '@/kit/state/editor'
import EditorFoot from '@/kit/controls/EditorFoot.vue'
import { t } from '@/words'

import { falseMatchWords } from './false-matches'

type Rules = components['schemas']['BiometricSettingsShape']

/** What the site asks of fingers and consents. */
const props = defineProps<{ rules: Rules; mayChange: boolean }>()

const editor = useEditor('biometric-rules', 0, (): Rules => ({
  ...props.rules,
  rule: { ...props.rules.rule },
  face_rule: { ...props.rules.face_rule },
  wording: { ...props.rules.wording },
}))
const { draft, act, at } = editor
const PRESSES = [
  ['least_quality', 'leastQuality', 0],
  ['presses', 'presses', 0],
  ['agreement', 'agreement', 2],
  ['match', 'match', 2],
] as const
const languages = Object.keys(draft.wording) as ('en' | 'de')[]

const save = () => act(() => unwrap(client.PUT('/api/biometric-settings/', { body: draft })))
</script>

<template>
  <form class="editor" @submit.prevent="save">
    <MayChange :may="mayChange">
      <h3>{{ t('biometricRules.fingers') }}</h3>
      <div class="line">
        <NumberField
          v-for="[field, word, digits] in PRESSES"
          :key="field"
          v-model="draft.rule[field]"
          class="figure"
          :digits="digits"
          :label="t(`biometricRules.${word}`)"
          :problems="at(`rule.${field}`)"
        />
      </div>
      <p class="quiet">
        {{ falseMatchWords(rules, 'finger', draft.rule.match) }} {{ t('biometricRules.matchHint') }}
      </p>
      <h3>{{ t('biometricRules.faces') }}</h3>
      <div class="line">
        <NumberField
          v-model="draft.face_rule.least_quality"
          class="figure"
          :label="t('biometricRules.faceQuality')"
          :problems="at('face_rule.least_quality')"
        />
        <NumberField
          v-model="draft.face_rule.match"
          class="figure"
          :digits="2"
          :label="t('biometricRules.faceMatch')"
          :problems="at('face_rule.match')"
        />
      </div>
      <p class="quiet">
        {{ falseMatchWords(rules, 'face', draft.face_rule.match) }} {{ t('biometricRules.faceHint') }}
      </p>
      <h3>{{ t('biometricRules.keeping') }}</h3>
      <div class="line">
        <NumberField
          v-model="draft.kept_days_after_departure"
          class="figure"
          :label="t('biometricRules.keptDays')"
          :problems="at('kept_days_after_departure')"
        />
        <NumberField
          v-model="draft.kept_picture_days"
          class="figure"
          :label="t('biometricRules.pictureDays')"
          :placeholder="t('biometricRules.notKept')"
          :problems="at('kept_picture_days')"
        />
        <NumberField
          v-model="draft.consent_days"
          class="figure"
          :label="t('biometricRules.consentDays')"
          :placeholder="t('common.noEnd')"
          :problems="at('consent_days')"
        />
      </div>
      <p class="quiet">{{ t('biometricRules.pictures') }}</p>
      <h3>{{ t('biometricRules.wording') }}</h3>
      <p class="quiet">{{ t('biometricRules.wordingHint') }}</p>
      <Field
        v-for="name in languages"
        :key="name"
        v-slot="{ id, invalid, describedBy }"
        :label="t(`languages.${name}`)"
        :problems="at(`wording.${name}`)"
      >
        <Textarea
          :id="id"
          v-model="draft.wording[name]"
          rows="5"
          :lang="name"
          :invalid="invalid"
          :aria-describedby="describedBy"
        />
      </Field>
    </MayChange>
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
  align-items: flex-end;
  gap: 8px 16px;
}
.figure {
  width: 160px;
}
</style>
