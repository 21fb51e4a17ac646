<script setup lang="ts">
import Button from 'primevue/button'
import { ref } from 'vue'

import NumberField from '@/kit/controls/NumberField.vue'
import { useSession } from '@/kit/state/session'
import TextField from '@/kit/controls/TextField.vue'
import { t } from '@/words'

/** A supervisor asks for less of one finger, with a reason. */
const props = defineProps<{ least: number; isLowered: boolean }>()
const emit = defineEmits<{ lower: [to: { least_quality: number; lowered_because: string }] }>()

const session = useSession()
const isOpen = ref(false)
const wanted = ref<number | null>(Math.max(props.least - 20, 0))
const reason = ref('')

function lower() {
  emit('lower', { least_quality: wanted.value ?? props.least, lowered_because: reason.value })
  isOpen.value = false
}
</script>

<template>
  <p v-if="isLowered" class="quiet">{{ t('fingers.lowered', { least }) }}</p>
  <template v-else-if="session.may('lower_quality')">
    <Button
      v-if="!isOpen"
      class="push"
      size="small"
      severity="secondary"
      variant="text"
      :label="t('fingers.lower')"
      @click="isOpen = true"
    />
    <div v-else class="row lower">
      <NumberField v-model="wanted" class="figure" :label="t('fingers.lowerTo')" :min="0" :max="100" />
      <TextField v-model="reason" class="reason" :label="t('fingers.lowerReason')" />
      <Button size="small" :label="t('fingers.lower')" @click="lower" />
    </div>
  </template>
</template>

<style scoped>
.lower {
  flex-wrap: wrap;
  align-items: flex-end;
  width: 100%;
}
.figure {
  width: 100px;
}
.reason {
  flex: 1;
  min-width: 140px;
}
</style>
