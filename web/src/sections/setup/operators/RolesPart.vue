<script setup lang="ts">
import { useQuery } from '@tanstack/vue-query'
import { Plus } from '@lucide/vue'
import { computed } from 'vue'

import { chosenInAddress } from '@/kit/state/addressed'
import { useSession } from '@/kit/state/session'
import { t, wordsForRole } from '@/words'

import ChoiceList from '@/kit/controls/ChoiceList.vue'
import { roles } from './queries'
import RoleEditor from './RoleEditor.vue'

/** What each kind of operator may do: the list, and one of them to edit. */
const mayChange = useSession().may('operators')
const { data, isError } = useQuery(roles)
const chosen = chosenInAddress()
const role = computed(() => data.value?.find((one) => one.id === chosen.value))
const rows = computed(() =>
  (data.value ?? []).map((one) => ({
    id: one.id,
    name: wordsForRole(one.name),
    about: [t('admin.operatorsOf', one.operators), one.tokens ? t('admin.tokensOf', one.tokens) : '']
      .filter(Boolean)
      .join(', '),
  })),
)
</script>

<template>
  <div class="both stacks">
    <div>
      <h2>{{ t('setup.parts.roles') }}</h2>
      <p v-if="isError" class="denied">{{ t('common.failed') }}</p>
      <button v-if="mayChange" type="button" class="new" @click="chosen = 'new'">
        <Plus :size="14" aria-hidden="true" /> {{ t('admin.newRole') }}
      </button>
      <ChoiceList :rows="rows" :chosen="chosen" @choose="chosen = $event" />
    </div>
    <RoleEditor
      v-if="role || chosen === 'new'"
      :key="`${chosen}-${role?.version}`"
      :role="role"
      @done="chosen = $event"
    />
    <p v-else class="quiet">{{ t('admin.chooseRole') }}</p>
  </div>
</template>

<style scoped src="./parts.css"></style>
