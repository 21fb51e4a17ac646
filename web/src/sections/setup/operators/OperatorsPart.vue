<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { Plus } from '@lucide/vue'
import { computed } from 'vue'

import { chosenInAddress } from '@/kit/state/addressed'
import { useSession } from '@/kit/state/session'
import { byName, t, wordsForRole } from '@/words'

import ChoiceList from '@/kit/controls/ChoiceList.vue'
import OperatorEditor from './OperatorEditor.vue'
import { operators, roles } from './queries'

/** Who works here: the list, and one of them to edit. */
const mayChange = useSession().may('operators')
const { data, isError } = useQuery(operators)
const { data: allRoles } = useQuery(roles)

const chosen = chosenInAddress()
const operator = computed(() => data.value?.find((one) => one.id === chosen.value))
const nameOf = (one: { first_name: string; last_name: string }) => `${one.first_name} ${one.last_name}`.trim()
const roleOf = (id: number | null) =>
  wordsForRole(allRoles.value?.find((one) => one.id === id)?.name ?? t('common.none'))
const rows = computed(() =>
  byName(data.value ?? [], (one) => `${one.is_active ? 0 : 1} ${one.last_name} ${one.first_name}`).map(
    (one) => ({
      id: one.id,
      name: nameOf(one),
      about: one.is_active ? roleOf(one.role) : t('admin.inactive'),
      isQuiet: !one.is_active,
    }),
  ),
)
</script>

<template>
  <div class="both stacks">
    <div>
      <h2>{{ t('setup.parts.operators') }}</h2>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <button v-if="mayChange" type="button" class="new" @click="chosen = 'new'">
        <Plus :size="14" aria-hidden="true" /> {{ t('admin.newOperator') }}
      </button>
      <ChoiceList :rows="rows" :chosen="chosen" @choose="chosen = $event" />
    </div>
    <OperatorEditor
      v-if="allRoles && (operator || chosen === 'new')"
      :key="`${chosen}-${operator?.version}`"
      :operator="operator"
      :roles="allRoles"
      @done="chosen = $event"
    />
    <p v-else class="quiet">{{ t('admin.chooseOperator') }}</p>
  </div>
</template>

<style scoped src="./parts.css"></style>
