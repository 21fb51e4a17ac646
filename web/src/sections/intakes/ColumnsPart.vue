<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import Button from 'primevue/button'
import InputText from 'primevue/inputtext'
import { computed } from 'vue'

import { client, type House, unwrap } from '@/api/client'
import { keyOf } from '@/api/keys'
import SelectField from '@/kit/controls/SelectField.vue'
import { useKept } from '@/kit/state/kept'
import { t } from '@/words'

import ColumnItem from './ColumnItem.vue'
import { type Intake, useTheIntake } from './intake'
import { useTargets } from './words'

/** The columns of the file, each with its first values and what it is taken for. */
const props = defineProps<{ intake: Intake; house: House }>()
const { saveMapping, takeMapping, isBusy } = useTheIntake()
const { targets } = useTargets(
  () => props.intake,
  () => props.house,
)
const { data: mappings } = useQuery({
  queryKey: keyOf('intakes', 'mappings'),
  queryFn: ({ signal }) => unwrap(client.GET('/api/intake-mappings/', { signal })),
})
const choiceOf = (n: number) => props.intake.choices.columns.find((one) => one.column === n)
const taken = computed(() => new Set(props.intake.choices.columns.map((one) => one.target)))

const typed = useKept(`mapping.${props.intake.id}`, () => ({ name: '' }))
const name = computed({
  get: () => typed.value?.name ?? '',
  set: (written) => (typed.value = written ? { name: written } : null),
})
async function save() {
  if (await saveMapping(name.value)) name.value = ''
}
</script>

<template>
  <section>
    <h2>{{ t('intake.columns') }}</h2>
    <p v-if="intake.reading.mapping" class="hint">
      {{ t('intake.asMapping', { name: intake.reading.mapping }) }}
    </p>
    <ul>
      <template v-for="one in intake.columns" :key="one.column">
        <ColumnItem
          v-if="choiceOf(one.column)"
          :found="one"
          :choice="choiceOf(one.column)!"
          :targets="targets"
          :taken="taken"
        />
      </template>
    </ul>
    <SelectField
      v-if="mappings?.length"
      :model-value="null"
      :label="t('intake.takeMapping')"
      :options="mappings"
      option-label="name"
      option-value="id"
      :placeholder="t('intake.chooseMapping')"
      @update:model-value="$event && takeMapping($event)"
    />
    <form class="row" @submit.prevent="save">
      <InputText
        v-model="name"
        size="small"
        class="grow"
        :placeholder="t('intake.mappingName')"
        :aria-label="t('intake.mappingName')"
      />
      <Button
        type="submit"
        size="small"
        severity="secondary"
        :label="t('intake.saveMapping')"
        :disabled="!name.trim() || isBusy"
      />
    </form>
  </section>
</template>

<style scoped>
.hint {
  font-size: 13px;
}
form {
  margin-top: 8px;
}
.grow {
  flex: 1;
  min-width: 0;
}
</style>
