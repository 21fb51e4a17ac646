<script setup lang="ts">
import Button from 'primevue/button'
import ProgressBar from 'primevue/progressbar'
import { useConfirm } from 'primevue/useconfirm'
import { computed, ref, useId } from 'vue'
import { useRouter } from 'vue-router'

import { useSession } from '@/kit/state/session'
import { t, wordsFor } from '@/words'

import { type Intake, useTheIntake } from './intake'

/** What is done with it: apply, stop, undo, discard; and how far it has come. */
const props = defineProps<{ intake: Intake; isAtWork: boolean }>()
const { apply, stop, undo, discard, addPhotos, isBusy, problems } = useTheIntake()
const confirm = useConfirm()
const router = useRouter()
const session = useSession()

const percent = computed(() => Math.round((100 * props.intake.done) / Math.max(1, props.intake.total)))
const people = computed(() => props.intake.new + props.intake.changed)
const isJudging = computed(
  () => props.intake.state === 'open' && !props.intake.is_assessed && !props.intake.failed,
)
const mayApply = computed(
  () => props.intake.state === 'open' && props.intake.is_assessed && !props.intake.problems.length,
)
const told = computed(() => [
  ...problems.value.filter((one) => !one.field?.startsWith('defaults.')),
  ...(props.intake.is_assessed ? props.intake.problems : []),
])
function askUndo() {
  confirm.require({
    header: t('intake.undo'),
    message: t('intake.undoAsk', people.value),
    acceptLabel: t('intake.undo'),
    rejectLabel: t('common.cancel'),
    accept: () => void undo(),
  })
}
async function throwAway() {
  if (await discard()) await router.push({ name: 'intakes' })
}
function askDiscard() {
  confirm.require({
    header: t('intake.discard'),
    message: t('intake.discardAsk', { name: props.intake.name }),
    acceptLabel: t('intake.discard'),
    rejectLabel: t('common.cancel'),
    accept: () => void throwAway(),
  })
}
const chooser = ref<HTMLInputElement>()
const photosId = useId()
function photosChosen() {
  const file = chooser.value?.files?.[0]
  if (file) void addPhotos(file)
  if (chooser.value) chooser.value.value = ''
}
</script>

<template>
  <div class="action-bar">
    <template v-if="intake.state === 'open'">
      <Button
        size="small"
        :label="t('intake.apply', people)"
        :disabled="!mayApply || isBusy"
        @click="apply"
      />
      <template v-if="session.may('edit') && intake.kind !== 'photos'">
        <input
          :id="photosId"
          ref="chooser"
          class="unseen"
          type="file"
          accept=".zip"
          tabindex="-1"
          :aria-label="t('intake.addPhotos')"
          @change="photosChosen"
        />
        <Button
          size="small"
          severity="secondary"
          :label="intake.has_photos ? t('intake.otherPhotos') : t('intake.addPhotos')"
          :disabled="isBusy"
          @click="chooser?.click()"
        />
      </template>
      <Button
        size="small"
        severity="secondary"
        variant="text"
        :label="t('intake.discard')"
        :disabled="isBusy"
        @click="askDiscard"
      />
    </template>
    <Button
      v-else-if="intake.state === 'applying'"
      size="small"
      severity="secondary"
      :label="t('intake.stop')"
      :disabled="isBusy"
      @click="stop"
    />
    <Button
      v-else-if="intake.can_be_undone && session.may('edit')"
      size="small"
      severity="secondary"
      :label="t('intake.undo')"
      :disabled="isBusy"
      @click="askUndo"
    />
    <div v-if="isAtWork || isJudging" class="progress">
      <ProgressBar
        :value="percent"
        :show-value="false"
        :style="{ height: '6px' }"
        :aria-label="t('intake.progress')"
      />
    </div>
    <p class="told" role="status">
      <span v-if="isAtWork">{{ t(`intake.nowAt.${intake.state as 'applying'}`) }}</span>
      <span v-else-if="isJudging">{{ t('intake.judging') }}</span>
      <span v-else-if="intake.state !== 'open'">{{ t(`intake.states.${intake.state}`) }}</span>
      <span v-else-if="told.length" class="denied">{{ told.map(wordsFor).join(' ') }}</span>
      <span v-else class="quiet">{{ t('intake.canBeUndone') }}</span>
    </p>
  </div>
</template>

<style scoped>
.progress {
  width: 180px;
}
</style>
